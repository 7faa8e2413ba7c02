// A student's practice: the week on paper, and the link ready to be copied.
import { sayFailures } from "./page.js";

sayFailures();
document.querySelector("[data-print]")?.addEventListener("click", () => print());
document.querySelector("input[readonly]")?.addEventListener("focus", event => event.target.select());
