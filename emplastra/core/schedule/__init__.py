"""When work may be done: hours of the shop, the first hours that let a coat be put on."""
