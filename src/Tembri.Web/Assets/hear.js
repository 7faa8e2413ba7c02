// Buttons that play a shape, or one shape after another: data-hear holds the pitches, shapes parted by |; data-gap the seconds between them; data-times how often.
import { Strings } from "./plucked.js";

const STRING_GAP = 0.014;
const LEVEL = 0.16;
let context = null, strings = null, gain = null, live = [], pressed = null;

function stop() {
  for (const node of live) { try { node.stop(); } catch { /* not begun yet */ } node.disconnect(); }
  live = [];
  pressed?.removeAttribute("aria-pressed");
  pressed = null;
}

async function play(button) {
  const again = pressed === button;
  stop();
  if (again) return;
  context ??= new AudioContext();
  await context.resume();
  if (!strings) {
    strings = new Strings(context);
    const soft = context.createDynamicsCompressor();
    gain = context.createGain();
    gain.gain.value = LEVEL;
    gain.connect(soft).connect(context.destination);
  }
  const shapes = button.dataset.hear.split("|").map(s => s.split(",").filter(Boolean).map(Number));
  const gap = Number(button.dataset.gap || 1.1);
  const times = Number(button.dataset.times || 1);
  const last = shapes.length * times - 1;
  for (let i = 0; i <= last; i++) {
    const when = context.currentTime + 0.05 + i * gap;
    const until = when + (i === last ? 1.8 : gap);
    shapes[i % shapes.length].forEach((pitch, s) => {
      const string = context.createBufferSource();
      const shape = context.createGain();
      string.buffer = strings.of(pitch);
      shape.gain.setValueAtTime(1, when);
      shape.gain.setValueAtTime(1, Math.max(when, until - 0.04));
      shape.gain.linearRampToValueAtTime(0, until + 0.04);
      string.connect(shape).connect(gain);
      string.start(when + s * STRING_GAP);
      string.stop(until + 0.06);
      live.push(string);
    });
  }
  if (last === 0) return;
  pressed = button;
  button.setAttribute("aria-pressed", "true");
  live.at(-1)?.addEventListener("ended", () => { if (pressed === button) stop(); });
}

/** Listens for buttons that are heard, wherever they come and go. */
export function hearButtons() {
  document.addEventListener("click", event => {
    const button = event.target.closest("[data-hear]");
    if (button) play(button);
  });
}
