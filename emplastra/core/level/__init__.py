"""Level: how far a face stands from flat, what is worked and filled, and when it is flat."""
