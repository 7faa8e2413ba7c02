// The page of the right hand: the pattern as steps on its count, written by keys or touch; its ladder is asked for as it changes; everything can be heard in a loop.
import { Player } from "./player.js";
import { keepForm } from "./kept-form.js";
import { say, sayChanged } from "./page.js";

const LOOK_PAUSE = 60;   // ms without a change before the ladder is asked for
const MOST_STEPS = 64;
const WORDS = { d: "down", u: "up", x: "damp", "-": "miss", ".": "ring", s: "stop", b: "bass", a: "other bass" };
const GLYPHS = { d: "↓", u: "↑", x: "×", "-": "–", ".": "·", s: "■", b: "B", a: "b" };
const COUNTS = { 1: [""], 2: ["", "&"], 3: ["", "la", "li"], 4: ["", "e", "&", "a"], 6: ["", "·", "·", "&", "·", "·"] };

const form = document.getElementById("strum");
const field = form.elements.pattern, line = form.querySelector("[data-count-line]"), faultLine = form.querySelector("[data-fault]");
const beats = Number(form.dataset.meterBeats), compound = form.dataset.compound === "true";
const parts = form.querySelector("[data-parts]"), bars = form.querySelector("[data-bars]");
let steps = [], buttons = [], at = 0, joins = false, undone = [], player = null, pressed = null, asked = null, timer = 0, keep = () => {};

/** The steps of a text: a letter each, or letters in brackets; null when they do not fill the bars chosen. */
function read(text) {
  const found = text.replaceAll("|", "").match(/\([^)]*\)|./g) ?? [];
  return found.length === Number(parts.value) * Number(bars.value) * beats ? found : null;
}

/** Which division and how many bars a text has, as the server reads it: as short as can be. */
function measure(text) {
  const count = (text.replaceAll("|", "").match(/\([^)]*\)|./g) ?? []).length;
  const fits = n => [...parts.options].some(o => Number(o.value) * beats * n === count);
  const n = text.includes("|") ? 2 : fits(1) ? 1 : fits(2) ? 2 : 0;
  if (n === 0 || !fits(n)) return false;
  bars.value = String(n);
  parts.value = String(count / (beats * n));
  return true;
}

const written = () => {
  const half = steps.length / 2;
  return Number(bars.value) === 2 ? `${steps.slice(0, half).join("")}|${steps.slice(half).join("")}` : steps.join("");
};
const count = i => {
  const n = Number(parts.value), beat = Math.floor(i / n) % beats, within = i % n;
  if (compound) return n === 6 ? within % 2 ? "&" : String(beat * 3 + within / 2 + 1) : String(beat * 3 + within + 1);
  return within === 0 ? String(beat + 1) : COUNTS[n][within];
};
const letters = step => step.replace(/[()]/g, "");
const isLoud = step => /[A-Z]/.test(step);
const glyph = step => [...letters(step).toLowerCase()].map(l => GLYPHS[l] ?? l).join("\u2009");
const words = step => [...letters(step).toLowerCase()].map(l => WORDS[l] ?? `string ${l}`).join(" and ") + (isLoud(step) ? ", leaned on" : "");

function draw() {
  const n = Number(parts.value);
  if (buttons.length !== steps.length || line.children.length !== Number(bars.value)) {
    buttons = steps.map((_, i) => {
      const button = document.createElement("button");
      button.type = "button";
      button.append(document.createElement("b"), document.createElement("span"));
      button.addEventListener("click", () => choose(i));
      return button;
    });
    line.replaceChildren(...Array.from({ length: Number(bars.value) }, (_, bar) => {
      const row = document.createElement("div");
      row.className = "count-bar";
      row.append(...buttons.slice(bar * n * beats, (bar + 1) * n * beats));
      return row;
    }));
  }
  buttons.forEach((button, i) => {
    button.className = `step${i % n === 0 ? " step-beat" : ""}${i % (n * beats) === 0 ? " step-bar" : ""}${isLoud(steps[i]) ? " step-loud" : ""}`;
    button.tabIndex = i === at ? 0 : -1;
    button.setAttribute("aria-pressed", String(i === at));
    button.setAttribute("aria-label", `${count(i)}: ${words(steps[i])}`);
    button.firstChild.textContent = glyph(steps[i]);
    button.lastChild.textContent = count(i);
  });
}

function choose(i, focus = true) {
  at = (i + steps.length) % steps.length;
  joins = false;
  draw();
  showJoin();
  if (focus) buttons[at].focus();
}
const showJoin = () => form.querySelector("[data-join]").setAttribute("aria-pressed", String(joins));

function change(now, where = at) {
  undone.push([field.value, at]);
  if (undone.length > 100) undone.shift();
  form.querySelector("[data-undo]").disabled = false;
  steps = now;
  at = Math.min(where, steps.length - 1);
  field.value = written();
  draw();
  look();
}

/** Writes a letter at the step that is chosen, and goes on to the next. */
function write(letter) {
  const now = [...steps], before = letters(now[at]);
  const isPick = /[ba1-6]/i.test(letter);
  if (joins && isPick && /^[ba1-6]+$/i.test(before) && !before.includes(letter.toLowerCase())) now[at] = `(${before}${letter})`;
  else now[at] = letter;
  const stays = joins;
  change(now);
  if (!stays) choose(at + 1, line.contains(document.activeElement));
}
function lean() {
  if (line.hidden) return;
  const now = [...steps];
  now[at] = isLoud(now[at]) ? now[at].toLowerCase() : /[dux1-6ba]/.test(now[at]) ? now[at].toUpperCase() : now[at];
  change(now);
}

/** Another division or number of bars: what falls on a step of it stays. */
function regrid(wasParts, wasBars) {
  const n = Number(parts.value), all = n * Number(bars.value) * beats;
  if (all > MOST_STEPS) { parts.value = String(wasParts); bars.value = String(wasBars); say(`A pattern has at most ${MOST_STEPS} steps.`); return; }
  const now = Array.from({ length: all }, (_, i) => {
    const old = i / n * wasParts % (wasParts * wasBars * beats);
    return Number.isInteger(old) ? steps[old] : ".";
  });
  change(now, 0);
}

/** Takes up what stands in the letters. */
function take() {
  const text = field.value.trim();
  const known = text.toLowerCase() !== "free" && measure(text) ? read(text) : null;
  line.hidden = !known;
  if (known) { steps = known; at = Math.min(at, steps.length - 1); draw(); }
  look();
}

const query = more => new URLSearchParams({ section: new URLSearchParams(location.search).get("section") ?? "0", rung: new URLSearchParams(location.search).get("rung") ?? "", pattern: field.value, swing: form.elements.swing?.value || "50", ...more });

function look() {
  keep();
  clearTimeout(timer);
  timer = setTimeout(async () => {
    asked?.abort();
    const mine = asked = new AbortController();
    try {
      const answer = await fetch(`${location.pathname}?handler=Look&${query({})}`, { signal: mine.signal });
      if (answer.redirected) { say("You are signed out. Go on here once you are signed in again:", true); return; }
      if (answer.ok) {
        document.getElementById("look").innerHTML = await answer.text();
        showFault("");
      } else if (answer.status === 422) showFault((await answer.json()).fault);
      else say("The server cannot show this just now; it is asked again with your next step.");
      if (answer.ok && player && pressed?.matches("[data-play]")) hear(pressed, {}, true);
    } catch (fault) { if (fault.name !== "AbortError") say("The server does not answer. What you write stays here; it is asked again with your next step."); }
  }, LOOK_PAUSE);
}
function showFault(words) {
  faultLine.textContent = words;
  faultLine.hidden = !words;
  if (words) sayChanged(words);
}

function stop() {
  player?.stop();
  player = null;
  pressed?.setAttribute("aria-pressed", "false");
  pressed = null;
}
/** Plays a pattern over and over until it is pressed again. */
async function hear(button, more, again = false) {
  const was = pressed === button && !again;
  stop();
  if (was) return;
  const answer = await fetch(`${location.pathname}?handler=Score&${query(more)}`);
  if (!answer.ok) { showFault(answer.status === 422 ? (await answer.json()).fault : "This cannot be played just now."); return; }
  stop();
  player = new Player(await answer.json());
  player.loop = { from: 0, to: player.clockwork.total };
  pressed = button;
  button.setAttribute("aria-pressed", "true");
  await player.play(false);
}

form.addEventListener("click", event => {
  const button = event.target.closest("button");
  if (!button) return;
  if (button.dataset.write) { if (!line.hidden) write(button.dataset.write); }
  else if (button.hasAttribute("data-lean")) lean();
  else if (button.hasAttribute("data-join")) { joins = !joins; showJoin(); }
  else if (button.hasAttribute("data-play")) hear(button, {});
  else if (button.hasAttribute("data-undo")) undo();
});
function undo() {
  const last = undone.pop();
  if (!last) return;
  form.querySelector("[data-undo]").disabled = undone.length === 0;
  [field.value, at] = last;
  take();
}
document.addEventListener("click", event => {
  const button = event.target.closest("[data-hear-pattern]");
  if (!button) return;
  const more = { pattern: button.dataset.hearPattern };
  for (const [name, key] of [["from", "from"], ["to", "to"], ["on", "on"]]) if (button.dataset[key] !== undefined) more[name] = button.dataset[key];
  hear(button, more);
});
parts.addEventListener("change", () => regrid(steps.length / beats / Number(bars.value), Number(bars.value)));
bars.addEventListener("change", () => regrid(Number(parts.value), steps.length / beats / Number(parts.value)));
form.elements.swing?.addEventListener("input", look);
field.addEventListener("input", take);
form.querySelector("[data-shipped]").addEventListener("change", event => {
  const { value } = event.target;
  if (!value) return;
  undone.push([field.value, at]);
  form.querySelector("[data-undo]").disabled = false;
  field.value = value;
  if (form.elements.swing) form.elements.swing.value = event.target.selectedOptions[0].dataset.swing;
  event.target.value = "";
  at = 0;
  take();
});
line.addEventListener("keydown", event => {
  if (event.ctrlKey || event.metaKey) {
    if (event.key === "z") { event.preventDefault(); undo(); }
    return;
  }
  if (event.altKey) return;
  const go = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: Number(parts.value), ArrowUp: -Number(parts.value) }[event.key];
  if (go) choose(at + go);
  else if (event.key === "Home") choose(0);
  else if (event.key === "End") choose(steps.length - 1);
  else if (/^[duxsba1-6.-]$/i.test(event.key)) write(/[s.-]/i.test(event.key) ? event.key.toLowerCase() : event.key);
  else if (event.key === "!") lean();
  else if (event.key === "+") { joins = true; showJoin(); }
  else if (event.key === "Backspace") { choose(at - 1); const now = [...steps]; now[at] = "."; change(now); choose(at); }
  else return;
  event.preventDefault();
});
document.addEventListener("keydown", event => {
  if (event.key !== " " || event.ctrlKey || event.target.closest("input, select, textarea, summary, a, button:not(.step)")) return;
  event.preventDefault();
  form.querySelector("[data-play]").click();
});
window.addEventListener("pagehide", stop);

form.elements.loudness.addEventListener("change", () => keep());
keep = keepForm(form, ["pattern", "swing", "loudness"], `${location.pathname}#${new URLSearchParams(location.search).get("section") ?? 0}`, () => {});
take();
