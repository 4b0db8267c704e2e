/* The live scale: asked five times a second; what it says is taken only while it stands still and is fresh. */
(() => {
  "use strict";
  const EVERY = 200, FRESH = 1, SPAN = 20;
  const WORDS = {
    steady: "steady", moving: "moving", lost: "no link: plug it in, or type it", silent: "no word for a second", garbled: "a line was cut", over: "no weight: too much on it",
    none: "read by another process: type it", away: "no answer from the workshop: type it later", old: "no answer for a second",
  };
  let busy = false, told = { link: "away" }, gotAt = 0, trail = [], tone = null;
  const all = (root, name) => root.querySelectorAll(`[data-${name}]`);
  const put = (root, name, text) => { for (const node of all(root, name)) if (node.textContent !== text) node.textContent = text; };
  const age = () => told.age + (performance.now() - gotAt) / 1000;
  const fresh = () => told.id && age() < FRESH;
  const places = () => Math.max(0, Math.min(3, Math.round(-Math.log10(told.step || 0.1))));
  const figure = (g) => g.toFixed(places()).replace("-", "−");
  const net = (root) => (root.dataset.offset === undefined ? told.g : told.g + Number(root.dataset.offset));

  async function ask() {
    const root = document.querySelector("[data-scale]");
    if (!root || busy || document.hidden) return;
    busy = true;
    const end = new AbortController(), timer = setTimeout(() => end.abort(), 1500);
    try {
      const answer = await fetch(root.dataset.scale, { signal: end.signal, cache: "no-store" });
      told = answer.ok && !answer.redirected ? await answer.json() : { link: "away" };
    } catch { told = { link: "away" }; }
    clearTimeout(timer);
    gotAt = performance.now();
    busy = false;
    show();
  }

  function show() {
    const root = document.querySelector("[data-scale]");
    if (!root) return;
    const known = fresh() && typeof told.g === "number", link = told.id && !fresh() ? "old" : told.link;
    const steady = known && link === "steady", g = known ? net(root) : null;
    root.dataset.link = link;
    put(root, "says", WORDS[link] + (known ? `, ${age().toFixed(1)} s old` : ""));
    put(root, "shows", known ? figure(g) : "–");
    if (told.lines) put(root, "lines", told.lines.join("\n"));
    for (const button of all(document, "takes")) button.disabled = !steady;
    put(document, "taken", known ? figure(g) : "");
    spark(root, g);
    if (root.dataset.target) pour(root, g, steady);
  }

  function pour(root, g, steady) {
    const { target, band, low, top } = Object.fromEntries(["target", "band", "low", "top"].map((k) => [k, Number(root.dataset[k])]));
    const least = root.dataset.least ? Number(root.dataset.least) : target - band;
    const there = g !== null && g >= Math.min(least, target - band) - 1e-6 && g <= target + band + 1e-6, over = g !== null && g > target + band;
    root.dataset.state = g === null ? "lost" : over ? "over" : there ? "there" : "pouring";
    put(root, "still", g === null ? "–" : figure(Math.abs(target - g)));
    put(root, "word", g === null ? "no weight" : over ? "too much" : there && steady ? "there" : "still to pour");
    const y = (value) => 252 * (1 - Math.max(0, Math.min(1, (value - low) / (top - low))));
    for (const node of all(root, "fill")) { node.setAttribute("y", g === null ? 252 : y(g)); node.setAttribute("height", g === null ? 0 : 252 - y(g)); }
    for (const node of all(root, "mark")) { node.setAttribute("transform", `translate(0 ${g === null ? 252 : y(g)})`); node.toggleAttribute("hidden", g === null); }
    sound(root, g === null ? null : target - g, there);
  }

  /* The last seconds as a line: whether it creeps is seen before it is read. */
  function spark(root, g) {
    const now = performance.now() / 1000;
    trail.push([now, g]);
    trail = trail.filter(([t]) => now - t < SPAN);
    const values = trail.map(([, v]) => v).filter((v) => v !== null), low = Math.min(...values), high = Math.max(...values, low + 1);
    const path = trail.filter(([, v]) => v !== null).map(([t, v], n) => `${n ? "L" : "M"}${(78 * (1 - (now - t) / SPAN)).toFixed(1)} ${(18 - 16 * (v - low) / (high - low)).toFixed(1)}`);
    for (const node of all(root, "spark")) node.setAttribute("d", values.length > 1 ? path.join(" ") : "");
  }

  /* Ticks that come faster, then one even tone: heard over the fan. */
  function sound(root, left, there) {
    if (!tone) return;
    const now = tone.context.currentTime;
    if (left === null) { tone.gain.gain.setTargetAtTime(0, now, 0.01); return; }
    tone.wave.frequency.setTargetAtTime(left < 0 && !there ? 220 : 660, now, 0.01);
    const gap = there ? 0 : Math.max(0.1, Math.min(1, left / 40));
    const on = there || (now % (2 * gap)) < gap;
    tone.gain.gain.setTargetAtTime(on && left < 60 ? 0.12 : 0, now, 0.01);
  }

  document.addEventListener("click", ({ target }) => {
    const button = target.closest("[data-sound]");
    if (!button) return;
    if (tone) { tone.context.close(); tone = null; } else {
      const context = new AudioContext(), wave = context.createOscillator(), gain = context.createGain();
      gain.gain.value = 0; wave.connect(gain).connect(context.destination); wave.start();
      tone = { context, wave, gain };
    }
    button.setAttribute("aria-pressed", String(Boolean(tone)));
  });

  /* What is sent is what was seen at the tap, by its name; what is old or moves is not sent. */
  document.addEventListener("submit", (event) => {
    const form = event.target;
    if (!form.matches("[data-live]") || !event.submitter?.matches("[data-takes]")) return;
    const root = document.querySelector("[data-scale]");
    if (!root || !fresh() || told.link !== "steady") { event.preventDefault(); event.stopImmediatePropagation(); return; }
    form.elements.sample.value = told.id;
    if (form.elements.shown) form.elements.shown.value = String(Math.round(net(root) * 1000) / 1000);
  }, true);

  setInterval(ask, EVERY);
  setInterval(show, 250);
  ask();
})();
