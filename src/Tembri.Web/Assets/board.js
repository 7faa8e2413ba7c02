// The fretboard on which a shape is drawn: a press asks the server for the shape with that changed; arrows move from place to place.
import { keyOf } from "./letter-keys.js";

let at = null;          // string and fret that the keys stand on
let asked = null;       // the newest question; older answers are not shown
let address = null;     // where the drawing is, pressed places that were not answered yet counted in

const here = () => document.querySelector("[data-board]");
const place = () => at && here()?.querySelector(`[data-key="${at[0]}-${at[1]}"]`);

function mark() {
  here()?.querySelectorAll("[data-at]").forEach(p => p.removeAttribute("data-at"));
  place()?.setAttribute("data-at", "");
}

async function go(to) {
  asked?.abort();
  const mine = asked = new AbortController();
  address = to;
  try {
    const answer = await fetch(to, { headers: { "HX-Request": "true" }, signal: mine.signal });
    if (!answer.ok || answer.redirected) { location.assign(to); return; }
    const html = await answer.text();
    if (mine.signal.aborted) return;
    const had = here()?.contains(document.activeElement);
    document.getElementById("bench").innerHTML = html;
    window.htmx.process(document.getElementById("bench"));
    if (had) here()?.focus({ preventScroll: true });
    mark();
  } catch (fault) {
    if (fault.name !== "AbortError") location.assign(to);
  }
}

/** The address with one string changed, taken from where the drawing is now, so that quick presses add up. */
function changed(to, string) {
  const wanted = new URL(to, location.href), now = new URL(address ?? to, location.href);
  if (string === null || !now.searchParams.has("draw") || now.searchParams.get("draw") === "now") return to;
  const frets = now.searchParams.get("draw").split(",");
  frets[string] = wanted.searchParams.get("draw").split(",")[string];
  wanted.searchParams.set("draw", frets.join(","));
  return wanted.pathname + wanted.search;
}

const stringOf = link => /[Ss]tring (\d)/.exec(link.getAttribute("aria-label") ?? "")?.[1];

export const board = {
  watch() {
    document.addEventListener("click", event => {
      const link = event.target.closest("[data-board] a");
      if (!link || event.ctrlKey || event.metaKey || event.shiftKey) return;
      event.preventDefault();
      if (link.dataset.key) at = link.dataset.key.split("-").map(Number);
      const string = stringOf(link);
      go(changed(link.getAttribute("href"), string ? 6 - Number(string) : null));
    });
    document.addEventListener("htmx:after:swap", () => { address = null; if (here()) { at = null; here().focus({ preventScroll: true }); } });
  },
  /** True when the key was one of the fretboard's. */
  key(event) {
    const root = here();
    if (!root || !root.contains(event.target)) return false;
    const [low, high] = [Number(root.dataset.first), Number(root.dataset.last)];
    const mirrored = root.querySelector("[data-key]") && root.querySelector(`[data-key="0-${low}"]`).getBoundingClientRect().left > root.querySelector(`[data-key="0-${high}"]`).getBoundingClientRect().left;
    const move = (strings, frets) => {
      at = at ? [Math.max(0, Math.min(5, at[0] + strings)), Math.max(low, Math.min(high, at[1] + frets))] : [0, low];
      mark();
    };
    const label = name => [...root.querySelectorAll("a")].find(a => a.getAttribute("aria-label") === name);
    const act = {
      ArrowUp: () => move(1, 0), ArrowDown: () => move(-1, 0), ArrowRight: () => move(0, mirrored ? -1 : 1), ArrowLeft: () => move(0, mirrored ? 1 : -1),
      Enter: () => (event.target.closest("a") ?? place())?.dispatchEvent(new MouseEvent("click", { bubbles: true, cancelable: true })), " ": () => place()?.dispatchEvent(new MouseEvent("click", { bubbles: true, cancelable: true })),
      0: () => at && label(`String ${6 - at[0]} open`)?.dispatchEvent(new MouseEvent("click", { bubbles: true, cancelable: true })),
      x: () => at && label(`Leave string ${6 - at[0]} out`)?.dispatchEvent(new MouseEvent("click", { bubbles: true, cancelable: true })),
    }[event.key.length > 1 || event.key === " " || event.key === "0" ? event.key : keyOf(event)];
    if (!act) return false;
    event.preventDefault();
    act();
    return true;
  },
};
