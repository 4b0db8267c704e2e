/* The pass: rows are dragged or moved by keys, strokes tick in their time, what is typed is marked as typed. */
(() => {
  "use strict";
  const form = document.querySelector("#pass-form"), answer = document.querySelector("#pass");
  if (!form || !answer) return;
  const STEP_MM = 10, FAR_MM = 50;
  const field = (name) => form.elements[name];
  const grips = () => [...answer.querySelectorAll("[data-row]")];
  const inches = () => form.querySelector("#f-distance .unit")?.textContent.trim() === "in";
  let drag = null, again = null;

  /* Where all rows run goes into its field, in the workshop's unit; the answer comes as to anything typed. */
  const put = (row, mm) => {
    const at = grips().map((grip) => Number(grip.dataset.row === row ? mm : grip.dataset.mm)).sort((a, b) => a - b);
    again = at.indexOf(mm);
    field("rows").value = at.map((each) => (inches() ? (each / 25.4).toFixed(2) : each.toFixed(0))).join(" ");
    field("rows").dispatchEvent(new Event("change", { bubbles: true }));
  };
  const scale = () => Number(answer.querySelector("[data-rows-of]").dataset.rowsOf);
  const down = (event) => {
    const svg = answer.querySelector("[data-rows-of]"), box = svg.getBoundingClientRect();
    return (event.clientY - drag.y) * (svg.viewBox.baseVal.height / box.height) / scale();
  };
  answer.addEventListener("pointerdown", (event) => {
    const grip = event.target.closest("[data-row]");
    if (!grip) return;
    event.preventDefault();
    grip.focus();
    grip.setPointerCapture(event.pointerId);
    drag = { grip, y: event.clientY, mm: Number(grip.dataset.mm) };
  });
  answer.addEventListener("pointermove", (event) => {
    if (drag) drag.grip.setAttribute("transform", `translate(0 ${down(event) * scale()})`);
  });
  answer.addEventListener("pointerup", (event) => {
    if (!drag) return;
    const by = Math.round(down(event)), { grip, mm } = drag;
    drag = null;
    if (by) put(grip.dataset.row, mm + by);
  });
  answer.addEventListener("pointercancel", () => { drag = null; });
  answer.addEventListener("keydown", (event) => {
    const grip = event.target.closest("[data-row]");
    const by = { ArrowUp: -STEP_MM, ArrowDown: STEP_MM, PageUp: -FAR_MM, PageDown: FAR_MM }[event.key];
    if (!grip || !by) return;
    event.preventDefault();
    put(grip.dataset.row, Number(grip.dataset.mm) + by);
  });
  document.body.addEventListener("htmx:afterSettle", ({ detail }) => {
    if (detail.target !== answer) return;
    told();
    if (again !== null) grips()[again]?.focus();
    again = null;
    quiet();
  });

  /* What cannot be is said at its field too: the answer may be out of sight. */
  const told = () => {
    for (const old of form.querySelectorAll("[data-told], .plate .help.is-danger")) old.remove();
    for (const link of answer.querySelectorAll(".pass-errors a")) {
      const place = form.querySelector(link.getAttribute("href"))?.closest(".field"), said = document.createElement("p");
      Object.assign(said, { className: "help is-danger", textContent: link.parentElement.textContent });
      said.dataset.told = "";
      place?.append(said);
    }
  };
  form.addEventListener("input", (event) => {
    const plate = event.target.closest("[data-plate]"), said = plate?.querySelector(".plate-basis");
    if (!said) return;
    plate.classList.remove("basis-measured", "basis-assumed", "basis-sheet", "basis-computed");
    plate.classList.add("basis-typed");
    said.textContent = "typed in";
  });
  /* Evenly again when the hand goes otherwise: rows that were moved belong to the overlap they were moved from. */
  form.addEventListener("change", (event) => {
    if (["overlap", "upright", "fan", "fan_at", "distance"].includes(event.target.name)) field("rows").value = "";
    if (event.target.name === "step") window.location.search = `?step=${event.target.value}`;
  }, true);
  document.querySelector("#gun-form")?.addEventListener("submit", (event) => {
    for (const hidden of event.target.querySelectorAll("input[type=hidden]")) if (field(hidden.name)?.value !== undefined) hidden.value = field(hidden.name).value;
  });

  /* A tick at the end of each stroke, for ears under a hood: two tones, there and back. */
  let timer = null, sound = null, stroke = 0;
  const tick = () => {
    const tone = sound.createOscillator(), loud = sound.createGain();
    tone.frequency.value = stroke % 2 ? 660 : 880;
    loud.gain.setValueAtTime(0.4, sound.currentTime);
    loud.gain.exponentialRampToValueAtTime(0.001, sound.currentTime + 0.12);
    tone.connect(loud).connect(sound.destination);
    tone.start();
    tone.stop(sound.currentTime + 0.13);
  };
  const quiet = () => {
    clearInterval(timer);
    timer = null;
    const button = answer.querySelector("[data-tick]");
    if (button?.dataset.said) { button.textContent = button.dataset.said; button.removeAttribute("aria-pressed"); }
  };
  answer.addEventListener("click", (event) => {
    const button = event.target.closest("[data-tick]");
    if (!button) return;
    if (timer) { quiet(); return; }
    sound ??= new AudioContext();
    [stroke, button.dataset.said] = [0, button.dataset.said ?? button.textContent];
    button.setAttribute("aria-pressed", "true");
    const next = () => {
      stroke += 1;
      if (stroke > Number(button.dataset.rows)) { quiet(); return; }
      button.textContent = `Stroke ${stroke} of ${button.dataset.rows}: stop`;
      tick();
    };
    next();
    timer = setInterval(next, 1000 * Number(button.dataset.tick));
  });
})();
