// Buttons that play a shape, or one shape after another: data-hear holds the pitches, shapes parted by |; data-gap the seconds between them, data-gap-to those at the end; data-times how often; data-loop goes on until it is pressed again.
import { Strings } from "./plucked.js";

const STRING_GAP = 0.014;
const LEVEL = 0.16;
let context = null, strings = null, out = null, live = [], pressed = null;

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
    out = context.createGain();
    out.gain.value = LEVEL;
    out.connect(soft).connect(context.destination);
  }
  const shapes = button.dataset.hear.split("|").map(s => s.split(",").filter(Boolean).map(Number));
  const from = Number(button.dataset.gap || 1.1), to = Number(button.dataset.gapTo || from);
  const loops = button.dataset.loop !== undefined;
  const last = shapes.length * Number(button.dataset.times || 1) - 1;
  let when = context.currentTime + 0.05;
  for (let i = 0; i <= last; i++) {
    const gap = last === 0 ? from : from + (to - from) * i / last;
    const until = when + (i === last && !loops ? 1.8 : gap);
    const at = when;
    shapes[i % shapes.length].forEach((pitch, s) => {
      const string = context.createBufferSource();
      const shape = context.createGain();
      string.buffer = strings.of(pitch);
      shape.gain.setValueAtTime(1, at);
      shape.gain.setValueAtTime(1, Math.max(at, until - 0.04));
      shape.gain.linearRampToValueAtTime(0, until + 0.04);
      string.connect(shape).connect(out);
      string.start(at + s * STRING_GAP);
      string.stop(until + 0.06);
      live.push(string);
    });
    when += gap;
  }
  if (last === 0) return;
  pressed = button;
  button.setAttribute("aria-pressed", "true");
  live.at(-1)?.addEventListener("ended", () => {
    if (pressed !== button) return;
    stop();
    if (loops && button.isConnected) play(button);
  });
}

/** Plays what an element holds. */
export const hear = play;

/** Listens for buttons that are heard, wherever they come and go. */
export function hearButtons() {
  document.addEventListener("click", event => {
    const button = event.target.closest("[data-hear]");
    if (button) play(button);
  });
}
