/* A first run: the zone of this device, until another is typed. */
(() => {
  "use strict";
  const here = document.querySelector("form[data-here] [name=time_zone]");
  if (here && !here.value) here.value = Intl.DateTimeFormat().resolvedOptions().timeZone || "";
})();
