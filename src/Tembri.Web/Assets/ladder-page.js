// The ladder page: arrows walk the matrix, letters act on the cell that has the focus, and what the teacher decides goes to the server step by step.
import { keyOf, showLetterKeys } from "./letter-keys.js";
import { sayFailures, say } from "./page.js";
import { board } from "./board.js";
import { hear, hearButtons } from "./hear.js";
import { closePanels } from "./panels.js";
import { Saver, sendStep } from "./saver.js";

// The state stands outside of the ladder, which is drawn anew with each step.
const tell = (words, signedOut) => say(words === "saved" || words === "saving…" ? "" : words, signedOut);

const saver = new Saver(tell);

/** What the keys do, by the ladder that is drawn now. */
const bench = {
  decide(form, button) {
    sendStep(saver, form, button, result => {
      if (!result.html) { tell(`That was not done: ${result.why}.`); return; }
      const ladder = document.getElementById("ladder");
      // The work goes on where it was: at the cell that had the focus, or at what now stands for what was pressed.
      const had = document.activeElement;
      const there = had?.closest("[data-cell]") ? `[data-cell="${had.closest("[data-cell]").dataset.cell}"]` : form.contains(had) || had === document.body ? form.dataset.then : null;
      const scrolled = document.querySelector(".options")?.scrollLeft ?? 0;
      ladder.outerHTML = result.html;
      const drawn = document.getElementById("ladder");
      window.htmx.process(drawn);
      showLetterKeys(drawn);
      if (there) (drawn.querySelector("details[open] [role=alert]") ?? drawn.querySelector(there) ?? drawn.querySelector("[data-cell][aria-current]") ?? drawn.querySelector("main [role=alert]"))?.focus({ preventScroll: true });
      const options = drawn.querySelector(".options");
      if (options) options.scrollLeft = scrolled;
    });
  },
  key(event) {
    if (event.target.closest("input, textarea, select, dialog[open]")) return;
    if ((event.ctrlKey || event.metaKey) && !event.altKey && event.key.toLowerCase() === "z") {
      event.preventDefault();
      document.querySelector(event.shiftKey ? "[data-redo]:not(:disabled)" : "[data-undo]:not(:disabled)")?.click();
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (board.key(event)) return;
    const act = {
      ArrowLeft: () => this.walk(0, -1), ArrowRight: () => this.walk(0, 1),
      ArrowUp: () => this.walk(-1, 0), ArrowDown: () => this.walk(1, 0),
      PageUp: () => this.walk(-1, 0), PageDown: () => this.walk(1, 0),
      s: () => this.current()?.click(),
      l: () => this.lock(),
      d: () => this.draw(),
      a: () => this.another(),
      h: () => this.hear(),
      f: () => this.fold("[data-forbid]"), p: () => this.fold("[data-apart]"), o: () => document.querySelector("#bench [data-out]")?.click(),
      g: () => { const decided = document.querySelector("[data-decided]"); if (decided) { decided.open = !decided.open; decided.querySelector("summary").focus(); } },
      c: () => document.querySelector("[data-go=compare]")?.click(), v: () => document.querySelector("[data-go=hand]")?.click(), r: () => document.querySelector("[data-go=rungs]")?.click(), e: () => document.querySelector("[data-go=steps]")?.click(),
      t: () => document.querySelector("#bench [data-take]")?.click(),
      z: () => document.querySelector("[data-undo]:not(:disabled)")?.click(),
      y: () => document.querySelector("[data-redo]:not(:disabled)")?.click(),
      w: () => this.current()?.closest("tr").querySelector("[data-why]")?.click(),
      Escape: () => this.close(),
      "?": () => this.help(),
    }[keyOf(event)] ?? (/^[1-9]$/.test(event.key) && document.querySelector(`#bench .option:nth-of-type(${event.key}) button:not(:disabled)`) ? () => document.querySelector(`#bench .option:nth-of-type(${event.key}) button`).click() : null);
    if (!act) return;
    if (event.key.startsWith("Arrow") && event.target.closest(".options, .neck")) return;
    event.preventDefault();
    act();
  },
  cells() { return [...document.querySelectorAll("[data-cell]")]; },
  current() { return document.activeElement?.closest("[data-cell]") ?? document.querySelector("[data-cell][aria-current]") ?? document.querySelector("tr.working [data-cell]") ?? this.cells()[0]; },
  walk(rows, columns) {
    const here = this.current();
    if (!here) return;
    if (!document.activeElement?.closest("[data-cell]")) { here.focus(); return; }
    const [row, column] = here.dataset.cell.split("-").map(Number);
    this.cells().find(c => c.dataset.cell === `${row + rows}-${column + columns}`)?.focus();
  },
  draw() {
    const open = document.querySelector("#bench [data-draw]");
    if (open) open.click();
    else this.current()?.click();
  },
  another() { this.fold("[data-another]"); },
  /** Opens a part of the bench where its chord is open, else the chord. */
  fold(which) {
    const part = document.querySelector(`#bench ${which}`);
    if (!part) { if (!document.querySelector("#bench [data-close-bench]")) this.current()?.click(); return; }
    part.open = true;
    part.querySelector("input:not([type=hidden]), select, button")?.focus();
  },
  hear() {
    const open = document.querySelector("#bench [data-hear]");
    if (open) { open.click(); return; }
    const cell = this.current();
    if (cell?.dataset.pitches) hear({ dataset: { hear: cell.dataset.pitches }, setAttribute() {}, removeAttribute() {} });
  },
  lock() {
    const open = document.querySelector("[data-lock]");
    if (open) open.click();
    else this.current()?.click();
  },
  close() {
    const close = document.querySelector("[data-close-bench]");
    if (!close) return;
    this.current()?.focus({ preventScroll: true });
    close.click();
  },
  help() { document.getElementById("keys-help")?.showModal(); },
};

sayFailures();
closePanels();
hearButtons();
board.watch();
// The ladder is drawn anew with each step, so the page listens for it.
document.addEventListener("submit", event => {
  const form = event.target;
  if (form.method !== "post" || !form.closest("#ladder")) return;
  event.preventDefault();
  bench.decide(form, event.submitter);
});
document.addEventListener("click", event => { if (event.target.closest("[data-help]")) bench.help(); });
window.addEventListener("keydown", event => bench.key(event));
