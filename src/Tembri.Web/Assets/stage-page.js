// The stage: now and next, led by keys, a foot switch, touch, or the clock of the player. The place stays when the rung changes.
import { keyOf } from "./letter-keys.js";
import { Player } from "./player.js";
import { say } from "./page.js";
import { Saver, stepName, withToken } from "./saver.js";
import { counting } from "./stage-count.js";
import { beat, find, part, put, root, said, stay, template } from "./stage-view.js";

const SOUNDS = [["rung", "rung sounds"], ["record", "record sounds"], ["none", "click alone"]];
const LEVEL = 0.4;         // a moderate level, as on the listening page
const SLOWEST = 20, FASTEST = 300, TEMPO_STEP = 4;

const memory = `tembri-stage:${location.pathname}`;
const saver = new Saver((words, signedOut) => say(words === "saved" || words === "saving…" ? "" : words, signedOut));

let steps = [], changes = {}, at = 0, player = null, scoreOf = "", tempo = Number(root.dataset.tempo), sound = 0, looped = false, frame = 0;

/** Reads the rung that stands in the page. */
function read() {
  const page = find(".stage-page");
  steps = JSON.parse(page.dataset.steps);
  changes = JSON.parse(page.dataset.changes);
  at = Math.max(0, Math.min(at, steps.length - 1));
  find("[data-sound-words]").textContent = SOUNDS[sound][1];
  find("[data-act=loop]").setAttribute("aria-pressed", String(looped));
}

/** The next step whose chord is another one. */
function following() {
  const here = steps[at].c;
  for (let i = at + 1; i < steps.length; i++) if (steps[i].c !== here && steps[i].c >= 0) return steps[i].c;
  return -1;
}

function show() {
  const step = steps[at];
  const next = following();
  put("[data-now-name]", step.c, "name");
  if (step.c < 0) find("[data-now-name]").textContent = "silence";
  put("[data-now-shape]", step.c, "shape");
  put("[data-next-shape]", next, "shape");
  const nextFigure = find("[data-next-shape]");
  if (next >= 0) {
    const caption = document.createElement("figcaption");
    caption.append(...template(next, "name").cloneNode(true).childNodes);
    if (find(`template[data-chord="${next}"]`).dataset.new) caption.insertAdjacentHTML("beforeend", " <em>new</em>");
    nextFigure.prepend(caption);
  }
  const nowFigure = find("[data-now-shape]");
  if (step.c >= 0) {
    const caption = document.createElement("figcaption");
    caption.append(...template(step.c, "name").cloneNode(true).childNodes);
    nowFigure.prepend(caption);
  }
  find(".stage-arrow").hidden = next < 0;
  find("[data-fingers]").textContent = next < 0 ? "" : changes[`${step.c}-${next}`]?.words ?? "";
  const beats = find("[data-beats]");
  const count = Math.max(1, Math.round(step.beats));
  beats.replaceChildren(...Array.from({ length: Math.min(count, 12) }, () => document.createElement("i")));
  beat(player?.playing ? 0 : 1);
  for (const section of root.querySelectorAll(".stage-section")) section.hidden = Number(section.dataset.section) !== step.s;
  for (const bar of root.querySelectorAll(".stage-bar")) {
    const [s, b] = bar.dataset.bar.split("-").map(Number);
    bar.toggleAttribute("data-here", s === step.s && b === step.b);
    bar.toggleAttribute("data-past", s === step.s && b < step.b);
  }
  const section = find(`.stage-section[data-section="${step.s}"]`);
  section.querySelector("[data-here]")?.scrollIntoView({ block: "nearest" });
  find("[data-where]").textContent = `${section.dataset.name}, bar ${step.b + 1} of ${section.querySelectorAll(".stage-bar").length}`;
  const after = steps.slice(at).find(s => s.s !== step.s);
  find("[data-next-section]").textContent = after ? `${find(`.stage-section[data-section="${after.s}"]`).dataset.name} comes next` : "then it ends";
  part(step);
  remember();
}

function tempoWords() { find("[data-tempo-words]").textContent = `${Math.round(tempo)} of ${Math.round(root.dataset.record)} a minute`; }

function remember() { try { sessionStorage.setItem(memory, JSON.stringify({ bar: steps[at].bar, at: steps[at].at, tempo, sound })); } catch { /* then it begins anew */ } }

/** Goes where a bar is, at the chord that begins there or before. */
function goTo(bar, beats = 0) {
  let found = steps.findIndex(s => s.bar >= bar);
  if (found < 0) found = steps.length - 1;
  while (found + 1 < steps.length && steps[found + 1].bar === steps[found].bar && steps[found + 1].at <= beats + 1e-6) found++;
  at = found;
}

function move(by) {
  const to = Math.max(0, Math.min(steps.length - 1, at + by));
  if (to === at) return;
  at = to;
  if (player?.playing) player.go(secondsOf(steps[at]));
  show();
}

function secondsOf(step) {
  const bar = player.score.bars[step.bar];
  return player.clockwork.seconds(bar.at + step.at * bar.beat);
}

async function ready() {
  const address = find(".stage-page").dataset.score;
  if (player && scoreOf === address) return true;
  const was = player;
  try {
    const answer = await fetch(address);
    if (!answer.ok || answer.redirected) throw new Error();
    player = new Player(await answer.json());
    scoreOf = address;
  } catch {
    player = was;
    said("The sounds could not be made ready. The steps go on by keys; try again in a moment.");
    return false;
  }
  was?.stop();
  player.ended = () => { stopped(); at = 0; show(); };
  settle();
  return true;
}

function settle() {
  if (!player) return;
  const kind = SOUNDS[sound][0];
  if (kind !== "none") player.setVersion(kind);
  player.setLevel(LEVEL);
  player.setClick(true);
  player.setRate(tempo / Number(root.dataset.record));
  if (kind === "none") player.score.versions.none ??= { strokes: [], chords: [] };
  if (kind === "none") player.setVersion("none");
  loop();
}

function loop() {
  if (!player) return;
  if (!looped) { player.setLoop(null); return; }
  const { bars } = player.score, { starts, total } = player.clockwork;
  let first = steps[at].bar, last = first;
  while (first > 0 && bars[first - 1].section === bars[first].section && bars[first - 1].bar < bars[first].bar) first--;
  while (last + 1 < bars.length && bars[last + 1].section === bars[last].section && bars[last + 1].bar > bars[last].bar) last++;
  player.setLoop({ from: starts[first], to: last + 1 < starts.length ? starts[last + 1] : total });
}

async function toggle() {
  if (player?.playing) { player.stop(); stopped(); return; }
  if (!await ready()) return;
  player.go(secondsOf(steps[at]));
  find("[data-play-words]").textContent = "stop";
  await player.play(true);
  stay();
  follow();
}

function stopped() {
  cancelAnimationFrame(frame);
  find("[data-play-words]").textContent = "play";
  beat(1);
}

function follow() {
  if (!player.playing) return;
  const { clockwork, score } = player;
  const now = player.now();
  const bar = clockwork.barAtSeconds(now);
  const inBar = (now - clockwork.starts[bar]) * score.tempo * score.bars[bar].pace / 60 / score.bars[bar].beat;
  const before = at;
  goTo(bar, inBar);
  if (at !== before) show();
  beat(Math.floor(inBar - steps[at].at + 1e-3) + 1);
  frame = requestAnimationFrame(follow);
}

async function rung(way) {
  const address = find(".stage-page").dataset[way];
  if (!address) { said(way === "up" ? "This is the highest rung." : "This is the lowest rung."); return; }
  const here = steps[at];
  const playing = player?.playing === true;
  try {
    const answer = await fetch(address, { headers: { "HX-Request": "true" } });
    if (!answer.ok || answer.redirected) { location.assign(address); return; }
    root.innerHTML = await answer.text();
  } catch { said("The server does not answer; the rung stays."); return; }
  history.replaceState(null, "", address);
  read();
  goTo(here.bar, here.at);
  tempoWords();
  show();
  if (playing) {
    const old = player, now = old.now();
    if (!await ready()) return;
    player.go(now);
    await player.play(false);
    find("[data-play-words]").textContent = "stop";
    follow();
  }
}

function faster(by) {
  tempo = Math.max(SLOWEST, Math.min(FASTEST, tempo + by));
  player?.setRate(tempo / Number(root.dataset.record));
  tempoWords();
  remember();
}

// What is noted and counted.
function keep(body) {
  body.set("step", stepName());
  body.set("rung", find(".stage-page").dataset.rung);
  body.set("tempo", String(Math.round(tempo)));
  saver.send({
    address: document.querySelector("#stage-note form").action, body: () => withToken(body), wants: "json",
    taken: result => said(result.ok ? `Kept: ${result.data.said}` : `That was not kept: ${result.why}.`),
  });
}

function clean() {
  const body = new FormData();
  body.set("kind", "Clean");
  const section = find(`.stage-section[data-section="${steps[at].s}"]`);
  body.set("text", section.dataset.name);
  body.set("capo", find("#stage-count [name=capo]")?.value ?? "0");
  if (section.dataset.hardest) {
    const { from, to, free } = JSON.parse(section.dataset.hardest);
    body.set("fromFrets", from.join(","));
    body.set("toFrets", to.join(","));
    body.set("freeBeats", String(free));
  }
  keep(body);
}

function count() {
  const change = changes[`${steps[at].c}-${following()}`];
  if (!change) { said("There is no change from here to count."); return; }
  if (player?.playing) { player.stop(); stopped(); }
  counting.open(change);
}

const acts = {
  next: () => move(1), back: () => move(-1), play: toggle, slower: () => faster(-TEMPO_STEP), faster: () => faster(TEMPO_STEP),
  sound: () => { sound = (sound + 1) % SOUNDS.length; find("[data-sound-words]").textContent = SOUNDS[sound][1]; settle(); remember(); },
  loop: () => { looped = !looped; find("[data-act=loop]").setAttribute("aria-pressed", String(looped)); loop(); },
  up: () => rung("up"), down: () => rung("down"), count, clean,
  note: () => { document.getElementById("stage-note").showModal(); document.querySelector("#stage-note textarea").focus(); },
  help: () => document.getElementById("stage-keys").showModal(),
  home: () => { at = 0; if (player?.playing) player.go(0); show(); },
  leave: () => find("[data-leave]").click(),
};

const KEYS = {
  ArrowRight: "next", PageDown: "next", Enter: "next", ArrowLeft: "back", PageUp: "back", " ": "play", ",": "slower", ".": "faster", s: "sound", r: "loop", ArrowUp: "up", ArrowDown: "down",
  c: "count", v: "clean", n: "note", "?": "help", Home: "home", Escape: "leave",
};

window.addEventListener("keydown", event => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if (counting.dialog.open) {
    // The foot counts as well.
    if (["PageDown", "ArrowRight"].includes(event.key)) { event.preventDefault(); counting.tap(); }
    return;
  }
  if (event.target.closest("dialog[open], input, textarea, select")) return;
  if (event.target.closest("button, a") && (event.key === "Enter" || event.key === " ")) return;
  const act = KEYS[event.key.length > 1 || event.key === " " ? event.key : keyOf(event)];
  if (!act) return;
  event.preventDefault();
  acts[act]();
});
document.addEventListener("click", event => {
  const act = event.target.closest("[data-act]");
  if (act) { acts[act.dataset.act](); stay(); return; }
  const bar = event.target.closest(".stage-bar");
  if (bar) {
    const [s, b] = bar.dataset.bar.split("-").map(Number);
    const places = steps.map((x, i) => [x, i]).filter(([x]) => x.s === s && x.b === b && x.at === 0).map(([, i]) => i);
    at = places.sort((a, c) => Math.abs(a - at) - Math.abs(c - at))[0] ?? at;
    if (player?.playing) player.go(secondsOf(steps[at]));
    show();
    return;
  }
  if (event.target.closest("[data-tap]")) { counting.tap(); return; }
  if (event.target.closest("[data-count-again]")) { counting.again(); return; }
  if (event.target.closest("[data-close-dialog]")) { counting.rest(); event.target.closest("dialog").close(); return; }
  // Touch: the right half of the music goes on, the left third goes back.
  if (event.target.closest(".stage-now")) move(event.clientX < window.innerWidth / 3 ? -1 : 1);
});
document.addEventListener("submit", event => {
  const form = event.target.closest("[data-entry]");
  if (!form) return;
  event.preventDefault();
  if (form.closest("#stage-count")) counting.done();
  keep(new FormData(form));
  form.closest("dialog").close();
  form.querySelector("textarea")?.form.reset();
});
document.addEventListener("visibilitychange", () => { if (!document.hidden && player?.playing) stay(); });

try {
  const known = JSON.parse(sessionStorage.getItem(memory)) ?? {};
  if (SOUNDS[known.sound]) sound = known.sound;
  if (!new URLSearchParams(location.search).has("tempo") && known.tempo >= SLOWEST && known.tempo <= FASTEST) tempo = known.tempo;
  read();
  if (known.bar > 0) goTo(known.bar, known.at);
} catch { read(); }
tempoWords();
show();
stay();
