// A first chart from a recording, on the page of a new song.
import { listen } from "./recording.js";

const part = document.querySelector("[data-draft]");
const [file, start, stop, progress, said] = ["file", "start", "stop", "progress", "said"].map(name => part.querySelector(`[data-${name}]`));
let leaving = null;

file.addEventListener("change", () => { start.disabled = !file.files[0]; });
stop.addEventListener("click", () => leaving?.abort());
start.addEventListener("click", async () => {
  const text = document.querySelector("textarea.chart");
  if (text.value.trim() && !confirm("The draft takes the place of what is in the box. Go on?")) return;
  leaving = new AbortController();
  start.disabled = true;
  stop.hidden = progress.hidden = false;
  progress.value = 0;
  said.textContent = "";
  try {
    const heard = await listen(part.dataset.draft, file.files[0], document.querySelector("input[name=__RequestVerificationToken]").value, leaving.signal, done => { progress.value = done; });
    text.focus();
    text.select();
    if (!document.execCommand("insertText", false, heard.draft)) { text.value = heard.draft; text.dispatchEvent(new Event("input", { bubbles: true })); }
    said.textContent = heard.unsure ? `A draft stands in the box. Least sure: ${heard.unsure}. Check all of it by ear.` : "A draft stands in the box. Check all of it by ear.";
  } catch (problem) {
    if (problem.name !== "AbortError") said.textContent = problem.message;
  } finally {
    start.disabled = !file.files[0];
    stop.hidden = progress.hidden = true;
  }
});
