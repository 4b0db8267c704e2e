/* Days: a layer is dragged to another day's sheet, or carried there by keys; what follows is planned by the server. */
(() => {
  "use strict";
  const picture = document.querySelector(".days-picture"), form = document.querySelector("#days-put");
  if (!picture || !form) return;
  const sheets = [...picture.querySelectorAll("[data-day]")];
  const box = (sheet) => ({ from: Number(sheet.dataset.x), to: Number(sheet.dataset.x) + Number(sheet.dataset.w) });
  const say = document.querySelector("#days-carried");
  let held = null;

  const x = (event) => {
    const area = picture.getBoundingClientRect();
    return (event.clientX - area.left) * (picture.viewBox.baseVal.width / area.width);
  };
  const under = (at) => sheets.find((sheet) => at >= box(sheet).from && at <= box(sheet).to);
  const mark = (sheet) => { for (const each of sheets) each.classList.toggle("is-target", each === sheet); };
  const put = (layer, sheet) => {
    if (!sheet || sheet.dataset.day === layer.dataset.on) return;
    form.elements.acts.value = layer.dataset.acts;
    form.elements.day.value = sheet.dataset.day;
    form.requestSubmit();
  };
  picture.addEventListener("pointerdown", (event) => {
    const layer = event.target.closest("[data-acts]");
    if (!layer) return;
    event.preventDefault();
    layer.focus();
    layer.setPointerCapture(event.pointerId);
    held = { layer, x: x(event) };
  });
  picture.addEventListener("pointermove", (event) => {
    if (!held) return;
    held.layer.setAttribute("transform", `translate(${x(event) - held.x} 0)`);
    mark(under(x(event)));
  });
  const drop = (event) => {
    if (!held) return;
    const { layer } = held, sheet = event.type === "pointerup" ? under(x(event)) : null;
    held = null;
    layer.removeAttribute("transform");
    mark(null);
    put(layer, sheet);
  };
  picture.addEventListener("pointerup", drop);
  picture.addEventListener("pointercancel", drop);

  /* By keys: left and right choose a day, Enter puts it there, Escape lets it lie. */
  let carried = null;
  picture.addEventListener("keydown", (event) => {
    const layer = event.target.closest("[data-acts]"), by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!layer) return;
    if (by) {
      const now = carried ?? sheets.findIndex((sheet) => sheet.dataset.day === layer.dataset.on);
      carried = Math.min(Math.max(now + by, 0), sheets.length - 1);
      mark(sheets[carried]);
      say.textContent = `${layer.dataset.name}: ${sheets[carried].dataset.name}. Enter puts it there.`;
    } else if (event.key === "Enter" && carried !== null) {
      put(layer, sheets[carried]);
    } else if (event.key === "Escape") {
      carried = null;
      mark(null);
      say.textContent = "";
    } else { return; }
    event.preventDefault();
  });
  picture.addEventListener("focusout", () => { carried = null; mark(null); say.textContent = ""; });
})();
