/* A face laid flat: drawn on by a finger, its share stands in the field. A typed share puts the drawing aside. */
(() => {
  "use strict";
  const box = () => document.querySelector("[data-face]");
  const field = (name) => box().closest("form").elements[name];
  const cells = () => [...box().querySelectorAll("[data-at]")];
  const isOn = (cell) => cell.classList.contains("is-on");
  const at = (cell) => cell.dataset.at.split(" ").map(Number);
  let drag = null, ours = false;

  const mark = () => {
    const [columns] = box().dataset.face.split("x").map(Number), rows = [];
    for (const cell of cells()) {
      const [column, row] = at(cell);
      rows[row] = (rows[row] ?? 0) + (isOn(cell) ? 2 ** (columns - 1 - column) : 0);
    }
    return `${box().dataset.face}:${rows.map((row) => row.toString(16)).join(".")}`;
  };
  const told = () => {
    const on = cells().filter(isOn).length;
    field("drawn").value = on ? mark() : "";
    if (!on) return;
    ours = true;
    field("share").value = ((100 * on) / cells().length).toFixed(1);
    field("share").dispatchEvent(new Event("input", { bubbles: true }));
    ours = false;
  };
  const show = () => {
    const [columns] = box().dataset.face.split("x").map(Number), rows = field("drawn").value.split(":")[1]?.split(".");
    for (const cell of rows ? cells() : []) {
      const [column, row] = at(cell);
      cell.classList.toggle("is-on", Boolean(Math.floor(parseInt(rows[row], 16) / 2 ** (columns - 1 - column)) % 2));
    }
  };
  /* All between where the finger came down and where it is now, as one stroke; the rest stays as it was. */
  const paint = ({ clientX, clientY }) => {
    const cell = document.elementFromPoint(clientX, clientY)?.closest("[data-at]");
    if (!cell || !box().contains(cell)) return;
    const [column, row] = at(cell), within = (n, a, b) => n >= Math.min(a, b) && n <= Math.max(a, b);
    for (const [each, was] of drag.was) {
      const [c, r] = at(each);
      each.classList.toggle("is-on", within(c, column, drag.column) && within(r, row, drag.row) ? drag.paints : was);
    }
  };
  document.addEventListener("pointerdown", (event) => {
    const cell = event.target.closest?.("[data-at]");
    if (!cell || !box()?.contains(cell)) return;
    event.preventDefault();
    if (event.target.hasPointerCapture?.(event.pointerId)) event.target.releasePointerCapture(event.pointerId);
    const [column, row] = at(cell);
    drag = { column, row, paints: !isOn(cell), was: cells().map((each) => [each, isOn(each)]) };
    paint(event);
  });
  document.addEventListener("pointermove", (event) => { if (drag) paint(event); });
  for (const name of ["pointerup", "pointercancel"]) document.addEventListener(name, () => { if (drag) { drag = null; told(); } });
  document.addEventListener("click", (event) => {
    const how = event.target.closest?.("[data-face-set]")?.dataset.faceSet;
    if (!how) return;
    for (const cell of cells()) cell.classList.toggle("is-on", how === "all" || (how === "rest" && !cell.classList.contains("is-before")));
    told();
  });
  document.addEventListener("input", (event) => {
    if (ours || !box() || event.target !== field("share")) return;
    field("drawn").value = "";
    for (const cell of cells()) cell.classList.remove("is-on");
  });
  if (box()) show();
})();
