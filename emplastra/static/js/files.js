/* A file that is too large is refused before it is sent: a server that stops reading answers with a lost connection.
   Where a field takes a table, a file is read into it here, to be seen before it is logged. */
(() => {
  "use strict";
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

  const words = (bytes) => {
    try { return new TextDecoder("utf-8", { fatal: true }).decode(bytes); } catch { return new TextDecoder("latin1").decode(bytes); }
  };
  for (const area of document.querySelectorAll("textarea[data-from-file]")) {
    const label = document.createElement("label"), input = document.createElement("input");
    label.className = "from-file";
    label.append("From a file ", input);
    Object.assign(input, { type: "file", accept: ".csv,.txt,.tsv,text/plain,text/csv" });
    (area.closest(".control-row") ?? area).after(label);
    input.addEventListener("change", async () => {
      const file = input.files[0];
      if (!file) return;
      const tooLong = file.size > area.maxLength;
      area.setCustomValidity(tooLong ? `${file.name} is too long: at most ${area.maxLength} letters are taken here.` : "");
      if (tooLong) { area.reportValidity(); input.value = ""; return; }
      area.value = words(await file.arrayBuffer());
      area.dispatchEvent(new Event("input", { bubbles: true }));
    });
  }
})();
