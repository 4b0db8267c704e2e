/* One more row of shapes per tap. */
(() => {
  "use strict";
  const { body } = window.workshop;
  body.addEventListener("htmx:afterRequest", (event) => {
    const button = event.detail.elt;
    if (!button.classList?.contains("add-shape")) return;
    button.hidden = true;
    const next = document.querySelector(`.add-shape[data-n="${Number(button.dataset.n) + 1}"]`);
    if (next) next.hidden = false;
  });
})();
