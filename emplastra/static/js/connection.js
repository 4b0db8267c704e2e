/* Lost and found again: a page that has had no answer for a minute says so, over what may be old. */
(() => {
  "use strict";
  const { body, now } = window.workshop;
  const lost = document.getElementById("lost"), stale = document.getElementById("stale");
  const OLD_MS = 60000;
  let answered = Date.now();
  const alive = () => document.querySelector("[data-alive]");
  const hour = (ms) => new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit", timeZone: body.dataset.zone }).format(ms);
  function look() {
    const old = Boolean(alive()) && Date.now() - answered >= OLD_MS;
    if (old) stale.textContent = `No answer since ${hour(now() - (Date.now() - answered))}: the hours below are as old as that.`;
    stale.hidden = !old;
  }
  const ask = () => { for (const id of ["bench-rows", "zone-now"]) if (document.getElementById(id)) htmx.trigger(`#${id}`, "refresh"); };
  window.workshop.ask = ask;
  let failed = null; // a form that had no answer: it is said until it has one, whatever else comes through
  for (const name of ["htmx:sendError", "htmx:timeout"]) body.addEventListener(name, ({ detail }) => { lost.hidden = false; if (detail.elt.matches("form:not(#acts)")) failed = detail.elt; });
  /* What the workshop refuses without a page of its own is said where it was tapped; what was typed stays. */
  const refused = document.getElementById("refused");
  body.addEventListener("htmx:responseError", ({ detail: { xhr, elt } }) => {
    if (!elt.matches("form")) return;
    const page = new DOMParser().parseFromString(xhr.responseText, "text/html"), said = page.querySelector("main .note") ?? page.querySelector("main p, h1, p") ?? page.body;
    refused.textContent = `Not recorded: ${said.textContent.trim() || `the workshop answered ${xhr.status}`}`;
    refused.hidden = false;
  });
  body.addEventListener("htmx:beforeRequest", ({ detail }) => { if (detail.elt.matches("form")) refused.hidden = true; });
  body.addEventListener("htmx:afterRequest", ({ detail }) => {
    if (!detail.successful) return;
    answered = Date.now();
    look();
    if (failed?.isConnected && detail.elt !== failed) return;
    failed = null;
    lost.hidden = true;
  });
  addEventListener("offline", () => { lost.hidden = false; });
  addEventListener("online", () => { lost.hidden = true; ask(); });
  /* A page that was away asks at once; until it has an answer it says how old it is. */
  document.addEventListener("visibilitychange", () => { if (!document.hidden && Date.now() - answered > 20000) { look(); ask(); } });
  setInterval(look, 5000);
  /* What is said at the tap covers no button: what sticks to the foot stands above it. */
  const bar = document.querySelector(".at-tap");
  if (bar) new ResizeObserver(() => document.documentElement.style.setProperty("--at-tap", `${bar.offsetHeight}px`)).observe(bar);
})();
