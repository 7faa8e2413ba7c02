// The page of a recording: the browser decodes it, one channel of samples is sent, and its places are played from the file itself, slower at the same pitch.
import "./hear.js";
import { listen } from "./recording.js";

const page = document.querySelector("[data-record]");
const file = page.querySelector("[data-file]"), start = page.querySelector("[data-start]"), stop = page.querySelector("[data-stop]");
const progress = page.querySelector("[data-progress]"), fault = page.querySelector("[data-fault]");
const audio = new Audio();
let leaving = null, until = 0;

audio.preservesPitch = true;

function say(text) {
  fault.textContent = text;
  fault.hidden = !text;
}

file?.addEventListener("change", () => {
  say("");
  if (audio.src) URL.revokeObjectURL(audio.src);
  const chosen = file.files[0];
  start.disabled = !chosen;
  if (chosen) audio.src = URL.createObjectURL(chosen);
  for (const button of page.querySelectorAll("[data-from]")) button.disabled = !chosen;
  const hint = page.querySelector("[data-needs-file]");
  if (hint) hint.hidden = !!chosen;
});

page.addEventListener("click", event => {
  const button = event.target.closest("[data-from]");
  if (!button || button.disabled) return;
  const pressed = button.getAttribute("aria-pressed") === "true";
  quiet();
  if (pressed) return;
  audio.currentTime = Number(button.dataset.from);
  audio.playbackRate = Number(page.querySelector("[data-speed]")?.value || 1);
  until = Number(button.dataset.to);
  button.setAttribute("aria-pressed", "true");
  audio.play().catch(problem => {
    // Pausing while it still begins ends it as well.
    if (problem.name === "AbortError") return;
    quiet();
    say("This browser does not play the file. Another format, such as wav, will do.");
  });
});
audio.addEventListener("timeupdate", () => { if (audio.currentTime >= until) quiet(); });
audio.addEventListener("ended", quiet);

function quiet() {
  audio.pause();
  for (const button of page.querySelectorAll("[data-from][aria-pressed]")) button.removeAttribute("aria-pressed");
}

start?.addEventListener("click", async () => {
  say("");
  quiet();
  leaving = new AbortController();
  start.disabled = true;
  stop.hidden = progress.hidden = false;
  progress.value = 0;
  try {
    await listen(page.dataset.listen, file.files[0], page.querySelector("input[name=__RequestVerificationToken]").value, leaving.signal, done => { progress.value = done; });
    await show();
  } catch (problem) {
    if (problem.name !== "AbortError") say(problem.message);
  } finally {
    start.disabled = !file.files[0];
    stop.hidden = progress.hidden = true;
  }
});
stop?.addEventListener("click", () => leaving?.abort());

// The page anew, with the file still chosen.
async function show() {
  const fresh = new DOMParser().parseFromString(await (await fetch(page.dataset.page)).text(), "text/html").querySelector("[data-record]");
  while (page.children.length > 1) page.lastElementChild.remove();
  for (const part of [...fresh.children].slice(1)) page.append(part);
  start.textContent = "Listen again";
  for (const button of page.querySelectorAll("[data-from]")) button.disabled = false;
  page.querySelector("[data-needs-file]")?.setAttribute("hidden", "");
  const said = document.getElementById("said");
  if (said) said.textContent = "Listened to; what the recording tells stands below.";
}
