// Type what you want: every page, button and link that is here, and every song and student of the studio, by a few letters.
import { keyOf } from "./letter-keys.js";
import "./help.js";

const MOST = 14, PAUSE = 160;
let dialog = null, found = [], chosen = 0, asked = null, timer = 0;

const clean = text => text.replace(/\s+/g, " ").trim();
const plain = text => clean(text).toLowerCase().normalize("NFD").replace(/[\u0300-\u036f]/g, "");

/** A name for something that can be pressed, without the key that stands in it. */
function nameOf(element) {
  const label = element.getAttribute("aria-label");
  if (label) return clean(label);
  const copy = element.cloneNode(true);
  copy.querySelectorAll("kbd, template, script").forEach(k => k.remove());
  return clean(copy.textContent) || clean(element.title ?? "");
}

function here() {
  const seen = new Set();
  const all = [];
  for (const element of document.querySelectorAll("a[href], button, summary, [data-cell]")) {
    if (element.closest("dialog, [hidden], template") || element.disabled || element.classList.contains("skip")) continue;
    const name = nameOf(element);
    if (!name || name.length > 160 || seen.has(name)) continue;
    seen.add(name);
    const key = clean(element.querySelector("kbd")?.textContent ?? "");
    all.push({ name, kind: element.matches("nav a") ? "page" : key ? `here, key ${key}` : "here", act: () => { element.focus(); element.click(); element.dispatchEvent(new CustomEvent("tembri:done")); } });
  }
  return all;
}

/** How well words fit: all of them must be somewhere; beginnings count more, short names first. */
function score(name, words) {
  const text = plain(name);
  let sum = 0;
  for (const word of words) {
    const at = text.indexOf(word);
    if (at < 0) return -1;
    sum += at === 0 ? 3 : text[at - 1] === " " ? 2 : 1;
  }
  return sum - text.length / 400;
}

function show(list) {
  found = list;
  chosen = 0;
  const box = dialog.querySelector("ul");
  box.replaceChildren(...list.map((item, i) => {
    const line = document.createElement("li");
    line.id = `find-${i}`;
    line.setAttribute("role", "option");
    line.setAttribute("aria-selected", String(i === 0));
    const name = document.createElement("span"), kind = document.createElement("span");
    name.textContent = item.name;
    kind.textContent = item.kind;
    kind.className = "quiet";
    line.append(name, kind);
    line.addEventListener("click", () => take(i));
    return line;
  }));
  dialog.querySelector("input").setAttribute("aria-activedescendant", list.length ? "find-0" : "");
  dialog.querySelector("[data-none]").hidden = list.length > 0;
}

function mark(to) {
  const lines = dialog.querySelectorAll("li");
  if (lines.length === 0) return;
  lines[chosen].setAttribute("aria-selected", "false");
  chosen = (to + lines.length) % lines.length;
  lines[chosen].setAttribute("aria-selected", "true");
  lines[chosen].scrollIntoView({ block: "nearest" });
  dialog.querySelector("input").setAttribute("aria-activedescendant", `find-${chosen}`);
}

function take(i) {
  const item = found[i];
  if (!item) return;
  dialog.close();
  if (item.address) location.assign(item.address);
  else item.act();
}

let local = [];
function look() {
  const text = dialog.querySelector("input").value;
  const words = plain(text).split(" ").filter(Boolean);
  const fitting = local.map(item => ({ item, fits: words.length ? score(item.name, words) : 0 })).filter(x => x.fits >= 0).sort((a, b) => b.fits - a.fits).map(x => x.item).slice(0, MOST);
  show(fitting);
  clearTimeout(timer);
  asked?.abort();
  if (words.length === 0) return;
  timer = setTimeout(async () => {
    const mine = asked = new AbortController();
    try {
      const answer = await fetch(`/find?q=${encodeURIComponent(clean(text))}`, { signal: mine.signal, headers: { "X-Tembri": "script" } });
      if (!answer.ok || answer.redirected) return;
      const more = (await answer.json()).map(x => ({ name: x.name, kind: x.kind, address: x.address }));
      if (!mine.signal.aborted && more.length) show([...fitting.slice(0, MOST - Math.min(more.length, 8)), ...more.slice(0, 8)]);
    } catch { /* what is here can still be found */ }
  }, PAUSE);
}

function open() {
  if (!dialog) {
    dialog = document.createElement("dialog");
    dialog.className = "help find";
    dialog.setAttribute("aria-label", "Find");
    dialog.innerHTML = '<label class="field"><span>What do you want?</span><input type="text" role="combobox" aria-expanded="true" aria-controls="find-list" aria-autocomplete="list" autocomplete="off" spellcheck="false"></label><ul id="find-list" role="listbox" aria-label="Found"></ul><p class="quiet" data-none hidden>Nothing here is called so.</p>';
    document.body.append(dialog);
    const field = dialog.querySelector("input");
    field.addEventListener("input", look);
    field.addEventListener("keydown", event => {
      const act = { ArrowDown: () => mark(chosen + 1), ArrowUp: () => mark(chosen - 1), Enter: () => take(chosen) }[event.key];
      event.stopPropagation();
      if (!act) return;
      event.preventDefault();
      act();
    });
    dialog.addEventListener("click", event => { if (event.target === dialog) dialog.close(); });
  }
  local = here();
  dialog.querySelector("input").value = "";
  dialog.showModal();
  look();
  dialog.querySelector("input").focus();
}

window.addEventListener("keydown", event => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.target.closest("input:not([type=checkbox]):not([type=radio]):not([type=range]), textarea, select, dialog[open]")) return;
  if (keyOf(event) !== "/") return;
  event.preventDefault();
  open();
});
document.addEventListener("click", event => { if (event.target.closest("[data-find]")) open(); });
