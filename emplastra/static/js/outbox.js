/* Acts tapped while the workshop does not answer wait here with their tokens and hours, and are sent in order when it is back. */
(() => {
  "use strict";
  const { body, now } = window.workshop;
  const key = `outbox:${body.dataset.user}`;
  const box = document.getElementById("outbox"), list = document.createElement("ol");
  if (!box) return;
  box.append(list);
  const AGAIN_S = 120, WAIT_MS = 10000;
  const read = () => { try { return JSON.parse(localStorage.getItem(key)) ?? []; } catch { return []; } };
  let acts = read(), sending = false, tapped = null, onItsWay = null;
  const keep = () => { try { localStorage.setItem(key, JSON.stringify(acts)); } catch { /* then they live as long as the page */ } };
  const waiting = () => acts.filter((one) => !one.said);
  const hour = (s) => new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit", timeZone: body.dataset.zone }).format(s * 1000);
  const token = () => [...crypto.getRandomValues(new Uint8Array(18))].map((n) => n.toString(16).padStart(2, "0")).join("");
  function show() {
    box.hidden = !acts.length;
    list.replaceChildren(...acts.map((one) => {
      const item = document.createElement("li"), words = document.createElement("span"), gone = document.createElement("button");
      words.textContent = `${hour(one.tapped)} ${one.label}: ${one.said ?? "waits for the connection."}`;
      item.className = one.said ? (one.done ? "is-done" : "is-refused") : "is-waiting";
      item.append(words);
      if (one.look) { const look = document.createElement("a"); look.href = one.look; look.className = "button is-small"; look.textContent = "Look"; item.append(look); }
      gone.type = "button";
      gone.className = "button is-small";
      gone.textContent = one.said ? "Seen" : "Drop it";
      gone.addEventListener("click", () => { acts = acts.filter((other) => other !== one); keep(); show(); });
      item.append(gone);
      return item;
    }));
  }
  /* What a tap sends, with its own token: the page's is renewed, so that the next tap is another. */
  function put(one) {
    acts.push(one);
    keep();
    show();
    const field = document.querySelector("#acts-once [name=token]");
    if (field) field.value = token();
  }
  const labelOf = (form, by) => {
    const row = by?.closest("[data-zone]")?.querySelector("h2")?.textContent.trim() ?? "";
    const ticked = [...form.elements].filter((f) => f.name === "zone" && f.checked).length;
    const what = by?.firstChild?.textContent.trim() || by?.textContent.trim() || "";
    return [what, row || (ticked ? `${ticked} zones` : document.querySelector("h1")?.firstChild?.textContent.trim())].filter(Boolean).join(", ");
  };
  const isActs = (form) => form?.id === "acts";
  document.addEventListener("submit", (event) => {
    if (!isActs(event.target)) return;
    const form = event.target, by = event.submitter, fields = new FormData(form, by), last = onItsWay;
    const mine = { fields: [...fields].filter(([name]) => name !== "csrfmiddlewaretoken"), label: labelOf(form, by), act: fields.get("act"), tapped: Math.round(now() / 1000) };
    const zonesOf = (one) => String(one.fields.filter(([name]) => name === "zone"));
    const twice = last?.act === mine.act && zonesOf(last) === zonesOf(mine);
    const before = acts.find((one) => one.act === mine.act && mine.tapped - one.tapped < AGAIN_S);
    const again = !twice && before && !confirm(`${before.label} was tapped at ${hour(before.tapped)} already. Again?`);
    if (!twice && !again && !last && navigator.onLine && !waiting().length) { tapped = mine; return; }
    event.preventDefault();
    event.stopImmediatePropagation();
    if (twice || again) return;
    put(mine);
    if (!last) send(); // else it goes when the one before has its answer
  }, true);
  body.addEventListener("htmx:beforeRequest", ({ detail }) => { if (isActs(detail.elt)) onItsWay = tapped; });
  body.addEventListener("htmx:afterRequest", ({ detail }) => { if (isActs(detail.elt)) { onItsWay = null; send(); } });
  for (const name of ["htmx:sendError", "htmx:timeout"]) body.addEventListener(name, ({ detail }) => { if (isActs(detail.elt) && tapped) put(tapped); });
  async function sendOne(one) {
    const csrf = document.querySelector("#acts [name=csrfmiddlewaretoken]")?.value ?? JSON.parse(body.getAttribute("hx-headers"))["X-CSRFToken"];
    const data = new URLSearchParams(one.fields), stop = new AbortController(), timer = setTimeout(() => stop.abort(), WAIT_MS);
    try {
      const answer = await fetch(box.dataset.to, { method: "POST", body: data, headers: { "X-Outbox": "1", "X-CSRFToken": csrf }, signal: stop.signal });
      if (!answer.headers.get("Content-Type")?.startsWith("application/json")) return { stop: answer.redirected ? "Sign in again: it is kept." : "" };
      return await answer.json();
    } catch { return { stop: "" }; } finally { clearTimeout(timer); }
  }
  /* One after the other; where one is not answered, those behind it wait. */
  async function send() {
    if (sending || !waiting().length) return;
    sending = true;
    let sent = 0;
    for (const one of waiting()) {
      const became = await sendOne(one);
      if ("stop" in became) { box.dataset.note = became.stop; break; }
      Object.assign(one, became);
      sent += 1;
      keep();
      show();
    }
    sending = false;
    if (sent) { document.getElementById("lost").hidden = true; window.workshop.ask?.(); }
  }
  addEventListener("online", send);
  body.addEventListener("htmx:afterRequest", ({ detail }) => { if (detail.successful && !isActs(detail.elt)) send(); });
  setInterval(send, WAIT_MS);
  acts = acts.filter((one) => !one.done); // what went well was said on the page before
  keep();
  show();
  send();
})();
