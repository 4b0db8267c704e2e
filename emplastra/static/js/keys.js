/* Keys, when nothing is being typed. */
(() => {
  "use strict";
  const dialog = document.getElementById("keys"), swap = document.getElementById("single-keys");
  /* Whoever speaks to the page, or rests a hand on the keys, can turn them off on this device. */
  const KEY = "single-keys-off";
  let off = false;
  try { off = localStorage.getItem(KEY) === "1"; } catch { /* then they are on */ }
  const show = () => { if (swap) { swap.textContent = off ? "Turn single keys on" : "Turn single keys off"; swap.setAttribute("aria-pressed", String(off)); } };
  swap?.addEventListener("click", () => {
    off = !off;
    try { localStorage.setItem(KEY, off ? "1" : "0"); } catch { /* it holds for this page */ }
    show();
  });
  show();
  document.addEventListener("click", (event) => { if (event.target.closest("[data-print]")) print(); });
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === "Escape") {
      const open = event.target.closest(".checks[open]") ?? document.querySelector(".checks[open]");
      if (open) { open.open = false; open.querySelector("summary").focus(); }
      return;
    }
    /* A dialog just closed still has the keys for a moment. */
    if (event.target.closest("input, select, textarea, dialog[open]")) return;
    if (off && event.key !== "?") return;
    if (event.key === "/") {
      const find = document.getElementById("find");
      if (find) { event.preventDefault(); find.focus(); }
    } else if (event.key === "?") dialog.showModal();
    else if (event.key === "g") document.getElementById("gloves-form")?.requestSubmit();
    else document.querySelector(`a[data-key="${CSS.escape(event.key)}"]`)?.click();
  });
})();
