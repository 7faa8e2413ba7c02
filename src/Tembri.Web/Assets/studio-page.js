// The studio's page: what is changed is marked, and kept with the button.
import { KeptForm } from "./forms.js";
import { markUnsaved } from "./saver.js";

const form = document.getElementById("studio");
const kept = new KeptForm(form, location.pathname, () => {
  markUnsaved(form, false);
  document.querySelector("h1").textContent = form.elements["Form.Name"].value;
});
form.addEventListener("change", () => {
  kept.note();
  kept.say("not saved yet");
  markUnsaved(form, true);
});
form.addEventListener("submit", event => {
  event.preventDefault();
  // A conflict was told already; saving again is the answer to it.
  if (kept.isContested) kept.keepMine();
  else kept.keep();
});
