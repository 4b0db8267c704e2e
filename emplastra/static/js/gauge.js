/* Places of a face: what a gauge sends, or a hand writes, goes into the list, in a row or at the place that was tapped. */
(() => {
  "use strict";
  const EVERY = 300;
  const into = document.querySelector("[data-gauge-into]"), side = document.querySelector(".gauge-side");
  if (!into || !side) return;
  const head = `x %, y %, ${into.dataset.gaugeInto}`;
  const figure = side.querySelector("#gauge-figure"), places = side.querySelector("[data-places]"), link = side.querySelector("[data-gauge]");
  const hint = side.querySelector("[data-gauge-hint]"), says = side.querySelector("[data-gauge-says]");
  const marks = ["low", "high"];
  let place = null, after = "";

  const put = (text) => {
    into.value = text;
    into.dispatchEvent(new Event("input", { bubbles: true }));
  };
  const placed = () => into.value.trimStart().startsWith("x");
  const inRow = (value) => put(into.value + (!into.value || /\s$/.test(into.value) ? "" : " ") + value);
  const at = (cell) => {
    const [columns, rows] = places.dataset.places.split("x").map(Number), [column, row] = cell.dataset.at.split(" ").map(Number);
    return `${((100 * (column + 0.5)) / columns).toFixed(1)}, ${((100 * (row + 0.5)) / rows).toFixed(1)}`;
  };
  const atPlace = (cell, value) => {
    if (into.value.trim() && !placed()) {
      hint.textContent = "Rows stand in the list: clear them to go place by place.";
      return false;
    }
    const text = into.value.trim() ? into.value.trimEnd() : head;
    put(`${text}\n${at(cell)}, ${value}`);
    cell.classList.add("is-on");
    return true;
  };

  places?.addEventListener("click", (event) => {
    const cell = event.target.closest("[data-at]");
    if (!cell) return;
    const value = figure.value.trim();
    if (value && atPlace(cell, value)) {
      if (!marks.includes(value)) { figure.value = ""; figure.focus(); }
      return;
    }
    place?.classList.remove("is-next");
    place = value ? null : cell;
    place?.classList.add("is-next");
  });
  for (const mark of side.querySelectorAll("[data-mark]")) mark.addEventListener("click", () => { figure.value = mark.dataset.mark; });
  side.querySelector("[data-gauge-row]")?.addEventListener("click", () => { if (into.value.trim()) put(`${into.value.trimEnd()}\n`); });

  const take = (value) => {
    into.form.elements.unit.value = "um";
    if (place && atPlace(place, value)) { place.classList.remove("is-next"); place = null; return; }
    if (!placed()) inRow(value); else figure.value = value;
  };
  const ask = async () => {
    if (document.hidden) return;
    let told = { link: "away", read: [] };
    try {
      const answer = await fetch(`${link.dataset.gauge}?after=${after}`, { cache: "no-store" });
      if (answer.ok && !answer.redirected) told = await answer.json();
    } catch { /* said below */ }
    after = told.at || after;
    for (const um of told.read) take(String(Math.round(um * 10) / 10));
    says.textContent = { linked: "linked: put it on", lost: "no link: plug it in, or type", none: "read by another process: type", away: "no answer from the workshop" }[told.link];
    link.dataset.link = told.link;
  };
  if (link) (async () => { for (;;) { await ask(); await new Promise((done) => { setTimeout(done, EVERY); }); } })();
})();
