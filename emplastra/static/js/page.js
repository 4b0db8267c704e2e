/* What the other scripts share: the page's body and the server's time. */
(() => {
  "use strict";
  const body = document.body;
  const skew = Number(body.dataset.now) * 1000 - Date.now();
  window.workshop = { body, now: () => Date.now() + skew };
})();
