/* What takes a while says so. */
(() => {
  "use strict";
  document.addEventListener("submit", (event) => {
    const button = event.target.querySelector("[type=submit]");
    if (event.target.dataset.busy && button) { button.dataset.label = button.textContent; button.textContent = event.target.dataset.busy; button.setAttribute("aria-busy", "true"); }
  });
  addEventListener("pageshow", () => { for (const button of document.querySelectorAll("[data-label]")) { button.textContent = button.dataset.label; button.removeAttribute("aria-busy"); } });
})();
