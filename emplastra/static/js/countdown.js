/* Countdowns. */
(() => {
  "use strict";
  const { now } = window.workshop;
  const pad = (n) => String(n).padStart(2, "0");
  /* With its units: "17:14" would be read as an hour of the day. Seconds only where they matter. */
  const said = (left) => `${Math.floor(left / 60)} min${left < 600 ? ` ${pad(left % 60)} s` : ""}`;
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
      node.textContent = left >= 0 && left < 7200 ? said(left) : node.dataset.hour;
      node.title = node.dataset.hour;
    }
    for (const node of document.querySelectorAll("time[data-runs]")) {
      const gone = Math.max(0, Math.floor(now() / 1000 - Number(node.dataset.runs)));
      node.textContent = gone < 3600 ? `${Math.floor(gone / 60)} min ${pad(gone % 60)} s` : `${Math.floor(gone / 3600)} h ${pad(Math.floor(gone / 60) % 60)} min`;
    }
    for (const node of document.querySelectorAll("time[data-since]")) {
      const minutes = Math.round((now() / 1000 - Number(node.dataset.since)) / 60);
      if (minutes < 120) node.textContent = `${minutes} min ago`;
    }
  }
  count();
  document.body.addEventListener("htmx:afterSettle", count);
  setInterval(count, 1000);
})();
