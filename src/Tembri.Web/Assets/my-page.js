// A student's page: today step by step, one thing at a time; what was done is kept on the phone and handed in when it can be.
import { Click } from "./my-click.js";
import { Counting } from "./my-count.js";
import { Day, Log } from "./my-log.js";
import { Microphone } from "./my-mic.js";
import { PlayAlong } from "./my-play.js";
import { TuningView } from "./my-tuner.js";

const root = document.querySelector("[data-practice]");
const practice = JSON.parse(root.dataset.practice);
const views = new Map([...root.querySelectorAll("[data-view]")].map(v => [v.dataset.view, v]));
const state = root.querySelector("[data-state]");
const click = new Click();
const microphone = new Microphone();
const worklet = root.dataset.worklet;
const [plays, counts] = [new Map(), new Map()];
const tuner = new TuningView(views.get("tune"), microphone, worklet);
const here = new Date();
const on = `${here.getFullYear()}-${String(here.getMonth() + 1).padStart(2, "0")}-${String(here.getDate()).padStart(2, "0")}`;
// A page that was opened days ago without network since still knows the days ahead; after that, the last.
const today = practice.days.find(d => d.on === on) ?? practice.days.at(on < practice.days[0].on ? 0 : -1);
const day = new Day(practice.student, on);
let shown = "home", stepAt = -1, hurts = false;

// What was handed in changes the plan that is made next; a day that was begun is finished as it was begun.
if (day.state.stamp !== practice.stamp || !day.state.items) {
  Object.assign(day.state, { stamp: practice.stamp, items: today.items, breaks: today.breaks });
  day.write();
}
const viewOf = new Map([...practice.days.flatMap(d => d.items), ...today.items].map(i => [i.key, i.view]));
const keyOf = new Map([...viewOf].map(([key, view]) => [view, key]));
const isDone = item => day.state.done.includes(item.key);

const log = new Log(practice.student, practice.address, sayState);
const items = () => day.state.items.filter(i => !hurts || !i.hard);

function sayState() {
  const waiting = log.waiting.length;
  const words = [];
  if (log.refused.length > 0) words.push(`Not taken: ${log.refused.map(r => r.fault).join(" ")}`);
  if (waiting > 0) words.push(`${waiting === 1 ? "One thing waits" : `${waiting} things wait`} to be handed in${log.trouble ? ` (${log.trouble})` : ""}; ${log.keeps ? "it is kept on this phone." : "keep this page open: this phone stores nothing."}`);
  else if (day.state.handed) words.push("All handed in.");
  state.textContent = words.join(" ");
}

function handIn(entry) {
  day.state.handed = true;
  day.write();
  return log.add(entry);
}

/** Hands in what came of a step. */
function keepStep(view, how) {
  const { best, section, sounds, names, ...what } = practice.views[view];
  handIn({ ...what, ...how });
  day.finish(keyOf.get(view));
  list();
}

function list() {
  const place = root.querySelector("[data-today]");
  const rows = [];
  items().forEach((item, i) => {
    const row = document.createElement("li");
    const button = document.createElement("button");
    const [mark, words, minutes] = [document.createElement("span"), document.createElement("span"), document.createElement("span")];
    const song = document.createElement("small");
    button.type = "button";
    mark.className = "mark";
    words.textContent = item.title;
    song.textContent = item.song ?? "";
    minutes.textContent = `${item.minutes} min`;
    const done = isDone(item);
    button.disabled = !viewOf.has(item.key);
    if (done) row.dataset.done = "";
    button.setAttribute("aria-label", `${item.title}, ${item.minutes} minutes${done ? ", done" : ""}`);
    words.append(song);
    button.append(mark, words, minutes);
    button.addEventListener("click", () => open(i));
    row.append(button);
    rows.push(row);
    if (day.state.breaks.includes(i)) {
      const rest = document.createElement("li");
      rest.className = "my-break";
      rest.textContent = practice.pause;
      rows.push(rest);
    }
  });
  place.replaceChildren(...rows);
  const all = items();
  const left = all.filter(i => !isDone(i) && viewOf.has(i.key)).length;
  root.querySelector("[data-today-words]").textContent = all.length === 0 ? "Nothing is planned for today." :
    `Today: ${all.reduce((sum, i) => sum + i.minutes, 0)} minutes, ${all.length === 1 ? "one step" : `${all.length} steps`}${left === 0 ? ", all done. Well played." : left < all.length ? `, ${left} to go` : ""}.`;
  const begin = root.querySelector("[data-begin]");
  begin.textContent = left === 0 ? "Once more" : left < all.length ? "Go on" : "Begin";
  begin.disabled = all.length === 0;
}

function quiet() {
  click.stop();
  for (const pressed of root.querySelectorAll("[data-click][aria-pressed=true]")) pressed.setAttribute("aria-pressed", "false");
}

function show(name, quietly) {
  if (!views.has(name)) return;
  quiet();
  tuner.stop();
  counts.get(shown)?.keep();
  plays.get(shown)?.stop();
  for (const [key, view] of views) view.hidden = key !== name;
  shown = name;
  if (name === "home") { stepAt = -1; list(); sayState(); }
  if (name === "done") views.get("done").elements.minutes.value = String(Math.round(day.state.seconds / 60) || "");
  window.scrollTo(0, 0);
  if (!quietly) views.get(name).querySelector("h1").focus({ preventScroll: true });
}

/** Opens a view so that the phone's way back leads back. */
function go(name) {
  if (name === shown) return;
  if (name === "home" && history.state?.view) history.back();
  else { history.pushState({ view: name }, ""); show(name); }
}
window.addEventListener("popstate", event => show(event.state?.view ?? "home"));

function open(i) {
  const all = items();
  const name = viewOf.get(all[i].key);
  if (!name) return;
  stepAt = i;
  const view = views.get(name);
  view.querySelector("[data-number]").textContent = `${all[i].song ? " · " : ""}step ${i + 1} of ${all.length}`;
  view.querySelector("[data-next]").textContent = i + 1 < all.length ? "Next" : "Done for today";
  if (shown === "home") { history.pushState({ view: name }, ""); } else history.replaceState({ view: name }, "");
  show(name);
}

function next() {
  const all = items();
  const what = practice.views[shown];
  // A step that asks for nothing is done by going on.
  if (!what.kind) day.finish(keyOf.get(shown));
  else if (what.kind === "note" && !day.state.done.includes(keyOf.get(shown))) keepStep(shown, {});
  if (stepAt < 0) stepAt = all.findIndex(i => viewOf.get(i.key) === shown);
  const at = all.findIndex((item, i) => i > stepAt && !isDone(item) && viewOf.has(item.key));
  if (at >= 0) open(at);
  else { history.replaceState({ view: "done" }, ""); show("done"); }
}

function wire(name, view) {
  const what = practice.views[name];
  view.querySelector("[data-next]")?.addEventListener("click", () => { flush(name); next(); });
  if (what?.kind === "changes") counts.set(name, new Counting(view, what, microphone, worklet, () => quiet(), (count, seconds) => keepStep(name, { count, seconds })));
  for (const button of view.querySelectorAll("[data-went]")) button.addEventListener("click", () => { keepStep(name, { went: button.dataset.went === "true" }); next(); });
  for (const button of view.querySelectorAll("[data-click]")) button.addEventListener("click", async () => {
    const on = button.getAttribute("aria-pressed") === "true";
    click.stop();
    if (!on) await click.start(Number(button.dataset.click || 60));
    button.setAttribute("aria-pressed", String(!on));
  });
  for (const button of view.querySelectorAll("[data-try]")) button.addEventListener("click", () => tried(name, view, button.dataset.try === "clean"));
}

// Tries of a shape are handed in together, when the step is left.
const tries = new Map();
function tried(name, view, clean) {
  const so = tries.get(name) ?? { tries: 0, count: 0 };
  so.tries++;
  if (clean) so.count++;
  tries.set(name, so);
  view.querySelector("[data-tries]").textContent = String(so.tries);
  view.querySelector("[data-clean]").textContent = String(so.count);
}
function flush(name) {
  if (!tries.has(name)) return;
  keepStep(name, tries.get(name));
  tries.delete(name);
  views.get(name).querySelector("[data-tries]").textContent = views.get(name).querySelector("[data-clean]").textContent = "0";
}
window.addEventListener("pagehide", () => { for (const name of tries.keys()) flush(name); for (const count of counts.values()) count.keep(); tuner.stop(); });
// Out of sight it does not listen.
document.addEventListener("visibilitychange", () => { if (document.visibilityState === "hidden") { tuner.stop(); counts.get(shown)?.rest(); } });

for (const [name, view] of views) {
  if (name.startsWith("step-")) wire(name, view);
  if (!name.startsWith("play-")) continue;
  const along = new PlayAlong(view);
  plays.set(name, along);
  for (const button of view.querySelectorAll("[data-played]")) button.addEventListener("click", () => {
    const { section, ...entry } = practice.songs.find(s => name === `play-${s.id}`).entry;
    // The hardest change belongs to the whole song; of a section alone it tells nothing.
    const part = along.section === null ? entry : { ...entry, from: null, to: null, freeBeats: null };
    handIn({ ...part, text: along.sectionName, tempo: along.now, went: button.dataset.played === "true" });
    go("home");
  });
}
for (const button of root.querySelectorAll("[data-go]")) button.addEventListener("click", () => {
  if (practice.views[shown]) flush(shown);
  if (button.dataset.tempo) plays.get(button.dataset.go)?.prepare(Number(button.dataset.tempo), button.dataset.section);
  go(button.dataset.go);
});
root.querySelector("[data-back]").addEventListener("click", () => history.back());
root.querySelector("[data-begin]").addEventListener("click", () => {
  const at = items().findIndex(i => !isDone(i) && viewOf.has(i.key));
  open(Math.max(0, at));
});

for (const button of root.querySelectorAll("[data-take-back]")) button.addEventListener("click", async () => {
  try {
    const answer = await fetch(`${practice.address}/entries/${button.dataset.takeBack}/take-back`, { method: "POST", headers: { "X-Tembri": "script" } });
    if (!answer.ok && answer.status !== 404) throw new Error();
    button.closest("li").remove();
  } catch { state.textContent = "This needs the network; try again when it is back."; }
});

// How it felt.
const done = views.get("done");
let felt = null, hurt = null;
const press = (buttons, chosen) => { for (const b of buttons) b.setAttribute("aria-pressed", String(b === chosen)); };
for (const button of done.querySelectorAll("[data-felt]")) button.addEventListener("click", () => { felt = Number(button.dataset.felt); press(done.querySelectorAll("[data-felt]"), button); });
for (const button of done.querySelectorAll("[data-hurt]")) button.addEventListener("click", () => {
  hurt = button.dataset.hurt === "true";
  press(done.querySelectorAll("[data-hurt]"), button);
  done.querySelector("[data-hurt-words]").hidden = !hurt;
});
done.addEventListener("submit", event => {
  event.preventDefault();
  const fault = done.querySelector("[data-done-fault]");
  const minutes = done.elements.minutes.value === "" ? NaN : Number(done.elements.minutes.value);
  fault.hidden = hurt !== null && minutes >= 0 && minutes <= 600;
  fault.textContent = hurt === null ? "Say whether anything hurt: yes or no." : "Write the minutes as a number from 0 to 600.";
  if (!fault.hidden) return;
  if (hurt) hurts = true;
  handIn({ kind: "time", minutes, felt, hurt });
  day.state.seconds = 0;
  day.write();
  go("home");
});

// Minutes are those in which something to play was open and in sight.
setInterval(() => {
  if (document.visibilityState !== "visible" || !(shown.startsWith("step-") || shown.startsWith("play-"))) return;
  day.state.seconds += 5;
  day.write();
}, 5000);

show("home", true);
log.send();

if ("serviceWorker" in navigator) {
  navigator.serviceWorker.register("/my/worker.js").then(() => navigator.serviceWorker.ready).then(ready => {
    const assets = [...document.querySelectorAll("link[rel=stylesheet], link[rel=icon], link[rel=preload], script[src]")].map(e => new URL(e.href ?? e.src).pathname);
    const fonts = performance.getEntriesByType("resource").map(e => new URL(e.name)).filter(u => u.origin === location.origin && u.pathname.startsWith("/assets/")).map(u => u.pathname);
    const scores = [worklet, ...[...root.querySelectorAll("[data-score]")].map(v => v.dataset.score)];
    ready.active?.postMessage({ page: location.pathname, keep: [...new Set([...assets, ...fonts, ...scores, `${practice.address}/app.webmanifest`])] });
  }).catch(() => { /* then the page needs the network */ });
}
