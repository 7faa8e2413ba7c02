// Local behaviour of the pages. Registered before Alpine starts; no inline script, no eval (content policy).
import { bench } from "./bench.js";
import { bringer } from "./bringer.js";
import { chartEditor } from "./chart-editor.js";

document.addEventListener("alpine:init", () => {
  const { Alpine } = window;
  Alpine.data("bench", bench);
  Alpine.data("bringer", bringer);
  Alpine.data("chartEditor", chartEditor);
  Alpine.data("slider", () => ({
    value: "",
    init() { this.value = this.$refs.input.value; },
    move() { this.value = this.$refs.input.value; },
  }));
  Alpine.data("printer", () => ({ print() { window.print(); } }));
});

// Failed requests are said, never swallowed.
document.addEventListener("htmx:error", () => say("The server did not answer. Nothing was changed; try again."));

function say(message) {
  const place = document.getElementById("said");
  if (place) place.textContent = message;
}
