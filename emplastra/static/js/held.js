/* What is typed, tapped or sent while an answer is on its way is held and put into it: a swap takes nothing away. */
(() => {
  "use strict";
  const { body } = window.workshop;
  const asked = new Map();
  let taps = [], sending = null;
  const fieldsOf = (root) => [...root.querySelectorAll("input, select, textarea")].filter((f) => f.name && !["hidden", "file", "submit"].includes(f.type));
  const ticked = (field) => ["checkbox", "radio"].includes(field.type);
  const keyOf = (field) => (ticked(field) ? `${field.name}=${field.value}` : field.name);
  const stateOf = (field) => (ticked(field) ? field.checked : field.value);
  body.addEventListener("htmx:beforeRequest", ({ detail: { xhr, target, elt } }) => {
    const form = elt.closest("form");
    asked.set(xhr, { target, elt, form, typed: new Map(), was: new Map(fieldsOf(form ?? target).map((f) => [keyOf(f), stateOf(f)])) });
  });
  body.addEventListener("htmx:beforeSwap", ({ detail: { xhr } }) => {
    const ask = asked.get(xhr);
    if (ask) for (const f of fieldsOf(ask.form ?? ask.target)) if (ask.was.has(keyOf(f)) && ask.was.get(keyOf(f)) !== stateOf(f)) ask.typed.set(keyOf(f), stateOf(f));
  });
  /* An answer that was on its way while a step was taken out speaks of it still: what has no place any more is left out. */
  body.addEventListener("htmx:beforeSwap", ({ detail }) => {
    if (!detail.serverResponse?.includes("hx-swap-oob")) return;
    const answer = document.createElement("template");
    answer.innerHTML = detail.serverResponse;
    for (const part of answer.content.querySelectorAll("[hx-swap-oob]")) {
      const [, place] = part.getAttribute("hx-swap-oob").split(":");
      if (!document.querySelector(place ?? `#${CSS.escape(part.id)}`)) part.remove();
    }
    detail.serverResponse = answer.innerHTML;
  });
  const putBack = () => {
    for (const { form, typed } of asked.values()) {
      for (const field of typed.size ? fieldsOf(form ?? document) : []) {
        if (!typed.has(keyOf(field)) || typed.get(keyOf(field)) === stateOf(field)) continue;
        if (ticked(field)) field.checked = typed.get(keyOf(field)); else field.value = typed.get(keyOf(field));
        for (const name of ["input", "change"]) field.dispatchEvent(new Event(name, { bubbles: true }));
      }
    }
  };
  for (const name of ["htmx:afterSwap", "htmx:oobAfterSwap"]) body.addEventListener(name, putBack);
  /* A button that the answer replaces would take the tap with it. The same button again is a double tap, unless it moves something. */
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("button[hx-post]");
    const ask = button && [...asked.values()].find((one) => one.target.contains(button));
    if (!ask) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    if (button !== ask.elt || "again" in button.dataset) taps.push(`button[name="${button.name}"][value="${button.value}"]`);
  }, true);
  /* Fields that follow another, asked for by a field or a button, not a look at what is typed; for three seconds at most. */
  const follows = (form) => [...asked.values()].some((one) => one.form === form && one.elt.matches("input, select, textarea, button"));
  const send = () => {
    if (!sending) return;
    const { form, by } = sending;
    sending = null;
    form.requestSubmit(by && form.contains(by) ? by : undefined);
  };
  document.addEventListener("submit", (event) => {
    if (!follows(event.target)) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    if (!sending) setTimeout(() => { asked.clear(); send(); }, 3000);
    sending = { form: event.target, by: event.submitter };
  }, true);
  const done = ({ detail: { xhr } }) => {
    if (!asked.delete(xhr)) return;
    for (let next = taps.shift(); next; next = taps.shift()) {
      const button = document.querySelector(next);
      if (button) { button.click(); break; }
    }
    if (sending && !follows(sending.form)) send();
  };
  body.addEventListener("htmx:afterSettle", done);
  /* Where nothing is swapped in, or nothing came back, nothing settles. */
  body.addEventListener("htmx:afterRequest", (event) => { setTimeout(() => done(event), 60); });
})();
