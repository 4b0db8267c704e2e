/* A file that is too large is refused before it is sent: a server that stops reading answers with a lost connection. */
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
})();
