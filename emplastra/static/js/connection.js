/* Lost and found again. */
(() => {
  "use strict";
  const { body } = window.workshop;
  const lost = document.getElementById("lost");
  body.addEventListener("htmx:sendError", () => { lost.hidden = false; });
  body.addEventListener("htmx:afterRequest", (event) => { if (event.detail.successful) lost.hidden = true; });
  addEventListener("offline", () => { lost.hidden = false; });
  addEventListener("online", () => { lost.hidden = true; });
})();
