/* Small behaviours: drafts that survive, countdowns by server time, keys. No inline script, no eval. */
(() => {
  "use strict";
  const body = document.body;
  const skew = Number(body.dataset.now) * 1000 - Date.now();
  const now = () => Date.now() + skew;

  /* Drafts: one per (user, URL), kept on this device until the server has accepted its token. */
  const draftKey = () => `draft:${body.dataset.user}:${location.pathname}`;
  const store = {
    get(key) { try { return JSON.parse(localStorage.getItem(key)); } catch { return null; } },
    set(key, value) { try { localStorage.setItem(key, JSON.stringify(value)); } catch { /* a full store loses the draft, not the page */ } },
    drop(key) { try { localStorage.removeItem(key); } catch { /* as above */ } },
    keys() { try { return Object.keys(localStorage).filter((k) => k.startsWith("draft:")); } catch { return []; } },
  };
  const skipped = new Set(["csrfmiddlewaretoken", "password", "file"]);
  const valuesOf = (form) => {
    const values = {};
    for (const [name, value] of new FormData(form)) {
      if (skipped.has(name) || typeof value !== "string") continue;
      values[name] = name in values ? [values[name], value].flat() : value;
    }
    return values;
  };
  for (const node of document.querySelectorAll("[data-accepted]")) {
    for (const key of store.keys()) if (node.dataset.accepted && store.get(key)?.values?.token === node.dataset.accepted) store.drop(key);
  }
  const form = document.querySelector("form[data-draft]");
  if (form && body.dataset.user) {
    const refused = form.querySelector(".has-error, .note.is-stop, .note.is-warn");
    const draft = store.get(draftKey());
    const part = form.elements.part;
    const fits = draft && (!part || draft.values.part === part.value);
    /* A refused form shows what was sent; typed since then, before a reload, is more. What the server put in it stays. */
    if (fits && (!refused || draft.values.token === form.elements.token?.value)) restore(form, draft.values, Boolean(refused));
    const keep = () => store.set(draftKey(), { values: valuesOf(form), at: now() });
    form.addEventListener("input", keep);
    form.addEventListener("change", keep);
    let sent = false;
    form.addEventListener("submit", (event) => {
      if (sent) { event.preventDefault(); return; }
      keep();
      if (!navigator.onLine) { event.preventDefault(); document.getElementById("lost").hidden = false; return; }
      sent = true;
      setTimeout(() => { sent = false; }, 8000);
    });
    window.addEventListener("pageshow", () => { sent = false; });
  }
  function restore(target, values, onlyTyped) {
    let changed = false;
    for (const [name, value] of Object.entries(values)) {
      const field = target.elements[name];
      if (!field || field.type === "file" || (onlyTyped && field.type === "hidden")) continue;
      if (field instanceof RadioNodeList) {
        for (const one of field) {
          const on = [value].flat().includes(one.value);
          if (one.checked !== on) { one.checked = on; changed = true; }
        }
        continue;
      }
      if (field.type === "checkbox") { field.checked = true; continue; }
      if (field.value !== value) { if (name !== "token") changed = true; field.value = value; }
    }
    if (!changed) return;
    const note = document.createElement("p");
    note.className = "note";
    note.textContent = "What you typed before is back. ";
    const drop = document.createElement("button");
    drop.type = "button";
    drop.className = "button is-small";
    drop.textContent = "Start afresh";
    drop.addEventListener("click", () => { store.drop(draftKey()); location.reload(); });
    note.append(drop);
    target.prepend(note);
    addEventListener("load", () => target.dispatchEvent(new Event("input", { bubbles: true })));
  }

  /* A file that is too large is refused before it is sent: a server that stops reading answers with a lost connection. */
  document.addEventListener("change", (event) => {
    const input = event.target, most = Number(input.dataset?.most);
    if (!most || !input.files) return;
    const field = input.closest(".field");
    field.querySelector(".too-large")?.remove();
    const size = (input.files[0]?.size || 0) / 1e6;
    if (size <= most) return;
    const note = document.createElement("p");
    note.className = "help is-danger too-large";
    note.setAttribute("role", "alert");
    note.textContent = `${input.files[0].name} has ${size.toFixed(1)} MB: at most ${most} MB are taken here.`;
    input.value = "";
    field.append(note);
  });

  /* A first run: the zone of this device, until another is typed. */
  const here = document.querySelector("form[data-here] [name=time_zone]");
  if (here && !here.value) here.value = Intl.DateTimeFormat().resolvedOptions().timeZone || "";

  /* Countdowns. */
  const pad = (n) => String(n).padStart(2, "0");
  const ended = new Set();
  function count() {
    for (const node of document.querySelectorAll("time[data-until]")) {
      const left = Math.round((Number(node.dataset.until) * 1000 - now()) / 1000);
      if (!node.dataset.hour) node.dataset.hour = node.textContent;
      node.hidden = Boolean(node.dataset.soon) && Math.abs(left) > Number(node.dataset.soon);
      if (left <= 0 && left > -30 && !ended.has(node.dataset.until)) {
        ended.add(node.dataset.until);
        const rows = document.getElementById("bench-rows");
        if (rows) setTimeout(() => htmx.trigger(rows, "refresh"), 1200);
      }
      /* What is past is said as the hour it was: hours are never signed. */
      node.textContent = left >= 0 && left < 7200 ? `${Math.floor(left / 60)}:${pad(left % 60)}` : node.dataset.hour;
      node.title = node.dataset.hour;
    }
    for (const node of document.querySelectorAll("time[data-since]")) {
      const minutes = Math.round((now() / 1000 - Number(node.dataset.since)) / 60);
      if (minutes < 120) node.textContent = `${minutes} min ago`;
    }
  }
  count();
  setInterval(count, 1000);

  /* Bench: what has become urgent since the last look is said, shown by its row, in the title and, if wanted, by a tone. */
  const title = document.title;
  const said = document.getElementById("announce");
  const soundButton = document.getElementById("sound");
  let sound = null;
  let known = null;
  const showSound = () => { soundButton.setAttribute("aria-pressed", String(Boolean(sound))); soundButton.textContent = sound ? "Sound off" : "Sound on"; };
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
  soundButton?.addEventListener("click", () => {
    if (sound) { sound.close(); sound = null; } else { sound = new AudioContext(); tone(); }
    showSound();
  });
  function announce() {
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
  addEventListener("focus", () => { document.title = title; });
  body.addEventListener("htmx:afterSettle", (event) => { if (event.detail.elt?.id === "bench-rows") { count(); announce(); } });

  for (const box of document.querySelectorAll("[data-scroll]")) box.scrollLeft = (Number(box.dataset.scroll) / 1100) * box.scrollWidth - box.clientWidth / 2;

  /* What takes a while says so. */
  document.addEventListener("submit", (event) => {
    const button = event.target.querySelector("[type=submit]");
    if (event.target.dataset.busy && button) { button.dataset.label = button.textContent; button.textContent = event.target.dataset.busy; button.setAttribute("aria-busy", "true"); }
  });
  addEventListener("pageshow", () => { for (const button of document.querySelectorAll("[data-label]")) { button.textContent = button.dataset.label; button.removeAttribute("aria-busy"); } });

  /* Lost and found again. */
  const lost = document.getElementById("lost");
  body.addEventListener("htmx:sendError", () => { lost.hidden = false; });
  body.addEventListener("htmx:afterRequest", (event) => { if (event.detail.successful) lost.hidden = true; });
  addEventListener("offline", () => { lost.hidden = false; });
  addEventListener("online", () => { lost.hidden = true; });

  /* Windows: the slider says its value; a coat is dragged to another hour by its wet stretch. */
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

  /* One more row of shapes per tap. */
  body.addEventListener("htmx:afterRequest", (event) => {
    const button = event.detail.elt;
    if (!button.classList?.contains("add-shape")) return;
    button.hidden = true;
    const next = document.querySelector(`.add-shape[data-n="${Number(button.dataset.n) + 1}"]`);
    if (next) next.hidden = false;
  });

  /* Keys, when nothing is being typed. */
  const dialog = document.getElementById("keys");
  document.addEventListener("click", (event) => { if (event.target.closest("[data-print]")) print(); });
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.target.closest("input, select, textarea, dialog")) return;
    if (event.key === "/") {
      const find = document.getElementById("find");
      if (find) { event.preventDefault(); find.focus(); }
    } else if (event.key === "?") dialog.showModal();
    else if (event.key === "g") document.getElementById("gloves-form")?.requestSubmit();
    else document.querySelector(`a[data-key="${CSS.escape(event.key)}"]`)?.click();
  });
})();
