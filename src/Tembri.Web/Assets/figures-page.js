// The page of riffs and runs: where a figure lies is asked for as it is written; it is heard whole, simpler, or in pieces.
import { Player } from "./player.js";
import { keepForm } from "./kept-form.js";
import { say, sayChanged } from "./page.js";
import { SCRIPT, withToken } from "./saver.js";

const LOOK_PAUSE = 200;   // ms without a change
const form = document.getElementById("figure"), faultLine = form.querySelector("[data-fault]");
let keep = () => {}, timer = 0, asked = null, player = null, pressed = null;

const address = (handler, more = {}) => `${location.pathname}?${new URLSearchParams({ handler, section: new URLSearchParams(location.search).get("section") ?? "0", ...more })}`;
const send = (handler, more, signal) => fetch(address(handler, more), { method: "POST", headers: SCRIPT, body: withToken(new FormData(form)), signal });

function showFault(words) {
  faultLine.textContent = words;
  faultLine.hidden = !words;
  if (words) sayChanged(words);
}

function look() {
  keep();
  clearTimeout(timer);
  timer = setTimeout(async () => {
    asked?.abort();
    const mine = asked = new AbortController();
    try {
      const answer = await send("Look", {}, mine.signal);
      if (answer.status === 401 || answer.redirected) say("You are signed out. Go on here once you are signed in again:", true);
      else if (answer.ok) {
        document.getElementById("look").innerHTML = await answer.text();
        showFault("");
      } else if (answer.status === 422) showFault((await answer.json()).fault);
      else say("The server cannot show this just now; it is asked again with your next letter.");
    } catch (fault) { if (fault.name !== "AbortError") say("The server does not answer. What you write stays here; it is asked again with your next letter."); }
  }, LOOK_PAUSE);
}

function stop() {
  player?.stop();
  player = null;
  pressed?.setAttribute("aria-pressed", "false");
  pressed = null;
}

document.addEventListener("click", async event => {
  const button = event.target.closest("[data-hear-figure]");
  if (!button) return;
  const was = pressed === button;
  stop();
  if (was) return;
  const { from, to, on } = button.dataset;
  const answer = await send("Score", Object.fromEntries(Object.entries({ from, to, on }).filter(([, v]) => v !== undefined)));
  if (!answer.ok) { showFault(answer.status === 422 ? (await answer.json()).fault : "This cannot be played just now."); return; }
  player = new Player(await answer.json());
  player.loop = { from: 0, to: player.clockwork.total };
  pressed = button;
  button.setAttribute("aria-pressed", "true");
  await player.play(false);
});
for (const field of form.querySelectorAll("textarea, select, input:not([type=hidden])")) for (const kind of ["input", "change"]) field.addEventListener(kind, look);
keep = keepForm(form, ["form.notes", "form.bar", "form.position"], `${location.pathname}#${new URLSearchParams(location.search).get("section") ?? 0}-${form.elements["form.number"].value}`, look);
window.addEventListener("pagehide", stop);
