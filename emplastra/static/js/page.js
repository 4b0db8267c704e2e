/* What the other scripts share: the page's body and the server's time. */
(() => {
  "use strict";
  const body = document.body;
  document.documentElement.classList.add("has-script");
  const skew = Number(body.dataset.now) * 1000 - Date.now();
  /* Where there is room, the rest of a form is open. */
  const wide = () => { if (matchMedia("(min-width: 701px)").matches) for (const more of document.querySelectorAll("details[data-wide-open]")) more.open = true; };
  wide();
  body.addEventListener("htmx:afterSettle", ({ detail }) => { if (detail.elt?.id === "main") wide(); });
  /* A tap tells its hour, since it may arrive late. */
  document.addEventListener("submit", ({ target }) => { const at = target.elements.tapped; if (at) at.value = Math.round((Date.now() + skew) / 1000); }, true);
  /* What is asked for again is morphed: what is open, ticked or has the focus stays so. */
  Idiomorph.defaults.callbacks.beforeAttributeUpdated = (name, node) => !((name === "open" && node.localName === "details") || (name === "checked" && node.closest(".tick")));
  window.workshop = { body, now: () => Date.now() + skew };
})();
