/* Drafts: one per (user, URL), kept on this device until the server has accepted its token. */
(() => {
  "use strict";
  const { body, now } = window.workshop;
  let form = null, letGo = false, sent = false, going = false;
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
      if (skipped.has(name) || typeof value !== "string" || form.elements[name]?.type === "password") continue;
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
  function begin(loaded) {
    form = document.querySelector("form[data-draft]");
    letGo = sent = false;
    if (!form || !body.dataset.user) return;
    const refused = form.querySelector(".has-error, .note.is-stop, .note.is-warn");
    const draft = store.get(draftKey());
    const part = form.elements.part;
    const fits = draft && (!part || draft.values.part === part.value);
    /* A refused form shows what was sent; typed since then, before a reload, is more. What the server put in it stays. */
    if (fits && (!refused || draft.values.token === form.elements.token?.value)) restore(form, draft.values, Boolean(refused));
    /* What came back, or was typed before this script was there, has its consequence shown and is kept like what is typed now. */
    const own = form, tell = () => { if ([...own.elements].some(differs)) own.dispatchEvent(new Event("input", { bubbles: true })); };
    if (loaded) tell(); else addEventListener("load", tell);
    const keep = () => { if (!letGo && own === form) store.set(draftKey(), { values: valuesOf(own), at: now() }); };
    own.addEventListener("input", keep);
    own.addEventListener("change", keep);
    own.addEventListener("htmx:afterSettle", keep);
    own.addEventListener("submit", (event) => { keep(); send(event, own); });
  }
  /* A form is sent by the page itself, so that it and what was typed stay where no answer comes; one with a file goes by itself. */
  function send(event, own) {
    if (sent) { event.preventDefault(); return; }
    sent = true;
    const free = () => { sent = going; body.classList.toggle("is-sending", going); };
    setTimeout(() => { going = false; free(); }, 8000);
    if (own.enctype === "multipart/form-data" || own.target) return;
    event.preventDefault();
    body.classList.add("is-sending"); // no other tap takes it back while it is on its way
    const by = event.submitter, values = by?.name ? { [by.name]: by.value } : {};
    by?.setAttribute("aria-busy", "true");
    htmx.ajax("POST", by?.getAttribute("formaction") || own.action, { source: own, target: "#main", select: "#main", swap: "outerHTML show:window:top", values, headers: { "X-Form": "1" } })
      .then(free, free).then(() => by?.removeAttribute("aria-busy"));
  }
  body.addEventListener("htmx:beforeSwap", ({ detail }) => {
    const { headers, path } = detail.requestConfig, go = detail.xhr.getResponseHeader("X-Go");
    if (!go) {
      /* What is shown next is the page to which it was sent. */
      if (headers["X-Form"] && detail.shouldSwap && detail.xhr.status !== 401) history.replaceState(null, "", path);
      return;
    }
    detail.shouldSwap = false;
    going = true;
    const to = new URL(go, location.href);
    const here = to.pathname + to.search === location.pathname + location.search;
    if (here && to.hash) { history.replaceState(null, "", to); location.reload(); } else location.assign(to);
  });
  body.addEventListener("htmx:afterSettle", ({ detail }) => { if (detail.elt?.id === "main") begin(true); });
  addEventListener("pageshow", () => { sent = going = false; body.classList.remove("is-sending"); });
  begin(false);
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
