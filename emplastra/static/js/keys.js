/* Keys, when nothing is being typed. */
(() => {
  "use strict";
  const dialog = document.getElementById("keys");
  document.addEventListener("click", (event) => { if (event.target.closest("[data-print]")) print(); });
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    /* A dialog just closed still has the keys for a moment. */
    if (event.target.closest("input, select, textarea, dialog[open]")) return;
    if (event.key === "/") {
      const find = document.getElementById("find");
      if (find) { event.preventDefault(); find.focus(); }
    } else if (event.key === "?") dialog.showModal();
    else if (event.key === "g") document.getElementById("gloves-form")?.requestSubmit();
    else document.querySelector(`a[data-key="${CSS.escape(event.key)}"]`)?.click();
  });
})();
