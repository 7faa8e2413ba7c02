// Two versions side by side: one player, one place, one key from one to the other.
import { keyOf } from "./letter-keys.js";
import { Player } from "./player.js";

const page = document.querySelector("[data-compare]");
const LEVEL = 0.4;
let player = null, version = "record", frame = 0;

const say = words => { page.querySelector("[data-compare-said]").textContent = words; };

async function ready() {
  if (player) return true;
  try {
    const answer = await fetch(page.dataset.compare);
    if (!answer.ok || answer.redirected) throw new Error();
    player = new Player(await answer.json());
  } catch { say("The sounds could not be made ready; try again in a moment."); return false; }
  player.setLevel(LEVEL);
  player.setVersion(version);
  player.ended = stopped;
  return true;
}

function hear(which) {
  version = which;
  for (const button of page.querySelectorAll("[data-hears]")) button.setAttribute("aria-pressed", String(button.dataset.hears === which));
  player?.setVersion(which);
}

function stopped() {
  cancelAnimationFrame(frame);
  page.querySelector("[data-play-words]").textContent = "Play";
}

function follow() {
  show();
  if (player.playing) frame = requestAnimationFrame(follow);
}

function show() {
  const bar = player.score.bars[player.clockwork.barAtSeconds(player.now())];
  const button = page.querySelector(`[data-bar="${bar.section}-${bar.bar}"]`);
  if (button?.hasAttribute("data-sounding")) return;
  page.querySelector("[data-sounding]")?.removeAttribute("data-sounding");
  button?.setAttribute("data-sounding", "");
  if (player.playing) button?.scrollIntoView({ block: "nearest" });
}

async function toggle() {
  if (player?.playing) { player.stop(); stopped(); return; }
  if (!await ready()) return;
  page.querySelector("[data-play-words]").textContent = "Stop";
  await player.play(false);
  follow();
}

async function step(by) {
  if (!await ready()) return;
  const { starts } = player.clockwork;
  player.go(starts[Math.max(0, Math.min(starts.length - 1, player.clockwork.barAtSeconds(player.now()) + by))]);
  show();
}

async function go(place) {
  if (!await ready()) return;
  const [section, bar] = place.split("-").map(Number);
  const here = player.clockwork.barAtSeconds(player.now());
  const found = player.score.bars.map((b, i) => [b, i]).filter(([b]) => b.section === section && b.bar === bar).map(([, i]) => i).sort((a, b) => Math.abs(a - here) - Math.abs(b - here))[0];
  if (found === undefined) return;
  player.go(player.clockwork.starts[found]);
  show();
  if (!player.playing) toggle();
}

document.addEventListener("click", event => {
  if (event.target.closest("[data-play]")) toggle();
  const hears = event.target.closest("[data-hears]");
  if (hears) hear(hears.dataset.hears);
  const bar = event.target.closest("[data-bar]");
  if (bar) go(bar.dataset.bar);
});
window.addEventListener("keydown", event => {
  if (event.target.closest("select, input, textarea") || event.ctrlKey || event.metaKey || event.altKey) return;
  const act = { p: toggle, b: () => hear(version === "record" ? "rung" : "record"), ArrowLeft: () => step(-1), ArrowRight: () => step(1), PageUp: () => step(-1), PageDown: () => step(1) }[keyOf(event)];
  if (!act) return;
  event.preventDefault();
  act();
});
