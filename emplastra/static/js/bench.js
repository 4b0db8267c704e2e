/* Bench: what has become urgent since the last look is said, shown by its row, in the title and, if wanted, by a tone. */
(() => {
  "use strict";
  const { body } = window.workshop;
  const title = document.title;
  const found = (id) => document.getElementById(id);
  let sound = null;
  let known = null;
  const showSound = () => {
    found("sound")?.setAttribute("aria-pressed", String(Boolean(sound)));
    if (found("sound")) found("sound").textContent = sound ? "Sound off" : "Sound on";
  };
  function tone() {
    if (!sound) return;
    [0, 0.35].forEach((at, i) => {
      const voice = sound.createOscillator(), gain = sound.createGain();
      voice.frequency.value = i ? 880 : 660;
      gain.gain.setValueAtTime(0.25, sound.currentTime + at);
      gain.gain.exponentialRampToValueAtTime(0.001, sound.currentTime + at + 0.3);
      voice.connect(gain).connect(sound.destination);
      voice.start(sound.currentTime + at);
      voice.stop(sound.currentTime + at + 0.3);
    });
  }
  document.addEventListener("click", ({ target }) => {
    if (target.id !== "sound") return;
    if (sound) { sound.close(); sound = null; } else { sound = new AudioContext(); tone(); }
    showSound();
  });
  function announce() {
    const said = found("announce");
    if (!said) return;
    const urgent = new Map([...document.querySelectorAll("[data-urgent]")].filter((n) => n.dataset.urgent).map((n) => [n.dataset.urgent, n]));
    if (known) {
      const fresh = [...urgent].filter(([key]) => !known.has(key));
      for (const [, node] of fresh) node.classList.add("is-new");
      if (fresh.length) { said.textContent = fresh.map(([, node]) => node.dataset.words).join(" "); tone(); }
      document.title = fresh.length ? `▲ ${fresh.length} new · ${title}` : document.title;
    }
    known = new Set(urgent.keys());
  }
  announce();
  /* Ticked rows stay ticked while rows are asked for again. */
  const ticks = () => [...document.querySelectorAll(".tick input")];
  const showTicked = () => { if (found("ticked")) found("ticked").textContent = `${ticks().filter((t) => t.checked).length} ticked`; };
  document.addEventListener("change", ({ target }) => { if (target.closest(".tick")) showTicked(); });
  document.addEventListener("click", ({ target }) => { if (target.id === "untick") { for (const tick of ticks()) tick.checked = false; showTicked(); } });
  addEventListener("focus", () => { document.title = title; });
  body.addEventListener("htmx:afterSettle", (event) => { if (["bench-rows", "main"].includes(event.detail.elt?.id)) { showSound(); announce(); } });

  for (const box of document.querySelectorAll("[data-scroll]")) box.scrollLeft = (Number(box.dataset.scroll) / 1100) * box.scrollWidth - box.clientWidth / 2;
})();
