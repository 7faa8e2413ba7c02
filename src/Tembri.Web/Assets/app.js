// Local behaviour of the pages. Registered before Alpine starts; no inline script, no eval (content policy).
import { bench } from "./bench.js";
import { bringer } from "./bringer.js";
import { chartEditor } from "./chart-editor.js";
import { studentForm, studioForm } from "./forms.js";

document.addEventListener("alpine:init", () => {
  const { Alpine } = window;
  Alpine.data("bench", bench);
  Alpine.data("bringer", bringer);
  Alpine.data("chartEditor", chartEditor);
  Alpine.data("studentForm", studentForm);
  Alpine.data("studioForm", studioForm);
  Alpine.data("slider", () => ({
    value: "",
    init() { this.value = this.$refs.input.value; },
    move() { this.value = this.$refs.input.value; },
  }));
  Alpine.data("printer", () => ({ print() { window.print(); } }));
});

// Failed requests are said, never swallowed; a fragment is only what was asked for, never another page.
document.addEventListener("htmx:error", () => say("The server does not answer. What you see may be old; it is asked again with your next step."));
document.addEventListener("htmx:response:error", event => {
  const status = event.detail.ctx?.response?.status;
  say(status === 401 ? "You are signed out. Sign in in another tab, then go on here." : status === 404 ? "This is not there any more; load the page again." : "The server cannot show this just now. What you see may be old; try again in a moment.");
});
document.addEventListener("htmx:before:response", event => { if (event.detail.ctx?.response?.raw?.redirected) { event.preventDefault(); say("You are signed out. Sign in in another tab, then go on here."); } });
document.addEventListener("htmx:after:swap", () => say(""));

function say(message) {
  const place = document.getElementById("said");
  if (place) place.textContent = message;
}
