/* Windows: the slider says its value; a coat is dragged to another hour by its wet stretch. */
(() => {
  "use strict";
  const whatIf = document.getElementById("windows-form");
  if (whatIf) {
    const shown = document.getElementById("kelvin-shown");
    const us = whatIf.dataset.units === "us";
    const show = () => {
      const k = Number(whatIf.elements.kelvin.value);
      shown.textContent = `${k < 0 ? "−" : "+"}${(Math.abs(k) * (us ? 1.8 : 1)).toFixed(1)} ${us ? "°F" : "K"}`;
    };
    show();
    whatIf.addEventListener("input", show);
    whatIf.addEventListener("reset", () => setTimeout(() => { whatIf.elements.kelvin.value = 0; whatIf.elements.minutes.value = 0; whatIf.elements.coat.value = ""; show(); htmx.trigger(whatIf, "change"); }));
    let drag = null;
    document.addEventListener("pointerdown", (event) => {
      const bar = event.target.closest?.("[data-coat]");
      if (!bar) return;
      const line = bar.ownerSVGElement, region = document.getElementById("windows-rows");
      const perPixel = (Number(region.dataset.end) - Number(region.dataset.start)) / 60 / line.getBoundingClientRect().width;
      const same = whatIf.elements.coat.value === bar.dataset.coat;
      drag = { bar, from: event.clientX, perPixel, units: line.viewBox.baseVal.width / line.getBoundingClientRect().width, minutes: 0, before: same ? Number(whatIf.elements.minutes.value) || 0 : 0 };
      event.preventDefault();
    });
    document.addEventListener("pointermove", (event) => {
      if (!drag) return;
      const by = event.clientX - drag.from;
      drag.minutes = Math.round(by * drag.perPixel / 5) * 5;
      drag.bar.setAttribute("transform", `translate(${by * drag.units} 0)`);
    });
    document.addEventListener("pointerup", () => {
      if (drag?.minutes) {
        whatIf.elements.coat.value = drag.bar.dataset.coat;
        whatIf.elements.minutes.value = drag.before + drag.minutes;
        htmx.trigger(whatIf, "change");
      }
      drag = null;
    });
    document.addEventListener("click", (event) => { if (event.target.closest?.("[data-coat]")) event.preventDefault(); });
  }
})();
