// The page of changes: a press on a band opens it in place; what makes it quicker is taken through the one way to the server.
import { hearButtons } from "./hear.js";
import { keyOf, showLetterKeys } from "./letter-keys.js";
import { sayChanged, sayFailures, say } from "./page.js";
import { Saver, sendStep } from "./saver.js";

const saver = new Saver((words, signedOut) => say(words === "saved" || words === "saving…" ? "" : words, signedOut));
const root = () => document.getElementById("changes");

function show(html, address, focus) {
  root().innerHTML = html;
  showLetterKeys(root());
  if (address) history.replaceState(null, "", address);
  sayChanged(root().querySelector("#change h2")?.textContent.trim() ?? "");
  (root().querySelector(focus) ?? root().querySelector(".change-map"))?.focus({ preventScroll: true });
}

let asked = null;
async function open(address, focus) {
  asked?.abort();
  const mine = asked = new AbortController();
  try {
    const answer = await fetch(address, { headers: { "HX-Request": "true" }, signal: mine.signal });
    if (!answer.ok || answer.redirected) { location.assign(address); return; }
    show(await answer.text(), address, focus);
  } catch (fault) { if (fault.name !== "AbortError") location.assign(address); }
}

sayFailures();
hearButtons();
document.addEventListener("click", event => {
  const link = event.target.closest("#changes a[data-change], .change-map a, #changes a[data-rung]");
  if (!link || event.ctrlKey || event.metaKey || event.shiftKey) return;
  event.preventDefault();
  open(link.getAttribute("href"), link.matches("[data-rung]") ? "[data-rung][aria-current]" : ".change-map a[aria-current]");
});
document.addEventListener("submit", event => {
  const form = event.target;
  if (form.method !== "post" || !form.closest("#changes")) return;
  event.preventDefault();
  sendStep(saver, form, event.submitter, result => {
    if (result.html) show(result.html, null, ".change-map a[aria-current]");
    else say(`That was not done: ${result.why}.`);
  });
});
window.addEventListener("keydown", event => {
  if (event.target.closest("input, textarea, select") || event.ctrlKey || event.metaKey || event.altKey) return;
  const rungs = [...document.querySelectorAll("[data-rung]")];
  const at = rungs.findIndex(r => r.hasAttribute("aria-current"));
  const act = {
    h: () => document.querySelector("#change [data-hear]")?.click(),
    b: () => [...document.querySelectorAll("#change a[data-change]:not([data-close])")].at(0)?.click(),
    Escape: () => document.querySelector("#change [data-close]")?.click(),
    ArrowUp: () => rungs[at + 1]?.click(), ArrowDown: () => rungs[at - 1]?.click(), PageUp: () => rungs[at + 1]?.click(), PageDown: () => rungs[at - 1]?.click(),
  }[keyOf(event)];
  if (!act) return;
  event.preventDefault();
  act();
});
