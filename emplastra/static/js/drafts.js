/* Drafts: one per (user, URL), kept on this device until the server has accepted its token. */
(() => {
  "use strict";
  const { body, now } = window.workshop;
  const draftKey = () => `draft:${body.dataset.user}:${form?.dataset.draft || location.pathname}`;
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
  addEventListener("load", () => {
    for (const live of document.querySelectorAll("form[data-live]")) {
      if ([...live.elements].some(differs)) live.dispatchEvent(new Event("change", { bubbles: true }));
    }
  });
  let letGo = false;
  const form = document.querySelector("form[data-draft]");
  if (form && body.dataset.user) {
    const refused = form.querySelector(".has-error, .note.is-stop, .note.is-warn");
    const draft = store.get(draftKey());
    const part = form.elements.part;
    const fits = draft && (!part || draft.values.part === part.value);
    /* A refused form shows what was sent; typed since then, before a reload, is more. What the server put in it stays. */
    if (fits && (!refused || draft.values.token === form.elements.token?.value)) restore(form, draft.values, Boolean(refused));
    /* What came back, or was typed before this script was there, has its consequence shown and is kept like what is typed now. */
    addEventListener("load", () => { if ([...form.elements].some(differs)) form.dispatchEvent(new Event("input", { bubbles: true })); });
    const keep = () => { if (!letGo) store.set(draftKey(), { values: valuesOf(form), at: now() }); };
    form.addEventListener("input", keep);
    form.addEventListener("change", keep);
    form.addEventListener("htmx:afterSettle", keep);
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
    if (target.dataset.arrange && !onlyTyped && values.order && values.order !== target.elements.order?.value) {
      /* Steps were put in, moved or taken out: the server lays them out again, with what was typed. */
      htmx.ajax("POST", target.dataset.arrange, { source: target.querySelector("#steps"), target: "#steps", swap: "innerHTML", values });
      changed = true;
    }
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
    drop.addEventListener("click", () => { letGo = true; store.drop(draftKey()); location.reload(); });
    note.append(drop);
    target.prepend(note);
  }
  function differs(field) {
    if (["hidden", "file", "submit", "button", "fieldset"].includes(field.type)) return false;
    if (["checkbox", "radio"].includes(field.type)) return field.checked !== field.defaultChecked;
    if (!field.options) return field.value !== field.defaultValue;
    const told = [...field.options].some((option) => option.defaultSelected) || field.multiple;
    return [...field.options].some((option, at) => option.selected !== (told ? option.defaultSelected : at === 0));
  }
})();
