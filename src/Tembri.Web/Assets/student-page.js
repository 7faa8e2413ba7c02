// A student's page: each change is kept as it is made, and its effect on the songs is shown.
import { KeptForm } from "./forms.js";
import { sayFailures } from "./page.js";
import { markUnsaved } from "./saver.js";

sayFailures();
const form = document.getElementById("student");
form.addEventListener("input", event => {
  if (event.target.type === "range") document.querySelector(`label[for="${event.target.id}"] b`).textContent = event.target.value;
});
if (form.dataset.saves) {
  const kept = new KeptForm(form, "?handler=Keep", () => window.htmx.ajax("GET", "?handler=Fits", { target: "#fits", swap: "innerHTML" }));
  let timer = 0;
  const changed = () => {
    markUnsaved(form, false);
    clearTimeout(timer);
    timer = setTimeout(() => kept.keep(), 150);
  };
  form.addEventListener("change", changed);
  form.addEventListener("submit", event => { event.preventDefault(); changed(); });
}
