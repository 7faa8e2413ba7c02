// The take-down page: saves as it is written, undoes across reloads, never overwrites another tab, and settles doubts with a key.
import { chartGrid } from "./chart-grid.js";

const PAUSE = 900;         // ms without typing before it is saved
const BURST = 600;         // ms within which typing is one step to undo
const AGAIN = 3000;        // ms before a save that failed is tried again
const MOST_STEPS = 120;

export const chartEditor = () => ({
  ...chartGrid,
  dirty: false, ready: false, state: "", theirs: "", steps: [], at: 0, lastTyped: 0,
  get noUndo() { return this.at === 0; },
  get noRedo() { return this.at >= this.steps.length - 1; },

  init() {
    this.song = this.$root.dataset.song || null;
    this.state = this.song ? "saved" : "";
    window.addEventListener("beforeunload", event => { if (this.dirty && !this.song) event.preventDefault(); });
    this.$root.addEventListener("click", event => {
      const doubt = event.target.closest("[data-line]");
      if (doubt) this.goTo(Number(doubt.dataset.line), Number(doubt.dataset.column));
      if (event.target.closest("[data-move]")) { event.preventDefault(); this.moveKey(); }
      const mend = event.target.closest("button[name=mend]");
      if (mend) { event.preventDefault(); this.mend(JSON.parse(mend.value)); }
    });
    this.recall();
    this.startGrid();
    this.ready = true;
  },

  // Undo and redo, kept for the tab so that a reload loses nothing.
  place() { return `tembri-chart-${this.song ?? "new"}`; },
  recall() {
    const text = this.$refs.text.value;
    let kept = null;
    try { kept = JSON.parse(sessionStorage.getItem(this.place())); } catch { /* nothing kept */ }
    if (kept?.steps?.length && (kept.version === this.$refs.version.value || kept.steps[kept.at] === text)) {
      this.steps = kept.steps;
      this.at = kept.at;
      if (kept.steps[kept.at] !== text && (this.song || !text)) this.put(kept.steps[kept.at]);
    } else {
      this.steps = [text];
      this.at = 0;
    }
  },
  remember() {
    try { sessionStorage.setItem(this.place(), JSON.stringify({ version: this.$refs.version.value, steps: this.steps, at: this.at })); } catch { /* full: undo then ends with the page */ }
  },
  step(text) {
    const now = Date.now();
    if (now - this.lastTyped < BURST && this.at === this.steps.length - 1 && this.at > 0) this.steps[this.at] = text;
    else {
      this.steps.splice(this.at + 1, Infinity, text);
      if (this.steps.length > MOST_STEPS) this.steps.shift();
      this.at = this.steps.length - 1;
    }
    this.lastTyped = now;
    this.remember();
  },
  undo(now) { if (!this.noUndo) this.move(-1, now === true); },
  redo(now) { if (!this.noRedo) this.move(1, now === true); },
  move(by, now) {
    this.at += by;
    this.lastTyped = 0;
    this.put(this.steps[this.at], now);
    this.remember();
  },
  /** Puts a text in the box, reads it (now, or when typing pauses) and saves it, without a new step. */
  put(text, now = false) {
    const box = this.$refs.text;
    if (box.value === text) return;
    const { scrollTop, selectionStart } = box;
    box.value = text;
    box.setSelectionRange(Math.min(selectionStart, text.length), Math.min(selectionStart, text.length));
    box.scrollTop = scrollTop;
    this.quiet = true;
    if (now) {
      this.typed();
      box.dispatchEvent(new CustomEvent("reread"));
    } else box.dispatchEvent(new Event("input", { bubbles: true }));
    this.quiet = false;
  },
  typed() {
    this.dirty = true;
    if (!this.quiet) this.step(this.$refs.text.value);
    if (!this.song) return;
    this.state = "not saved yet";
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.save(), PAUSE);
  },
  saved() { this.dirty = false; if (!this.song) sessionStorage.removeItem(this.place()); },

  async save() {
    if (this.theirs || !this.song) return;
    if (this.saving) { this.more = true; return; }
    this.saving = true;
    this.state = "saving…";
    const text = this.$refs.text.value;
    const body = new FormData(this.$refs.text.form);
    try {
      const answer = await fetch(`${location.pathname}?handler=Keep`, { method: "POST", body });
      const said = answer.headers.get("content-type")?.includes("json") ? await answer.json() : {};
      if (answer.ok) {
        this.$refs.version.value = said.version;
        this.dirty = this.$refs.text.value !== text;
        this.state = this.dirty ? "not saved yet" : "saved";
        this.remember();
      } else if (answer.status === 409) {
        Object.assign(this, { theirs: said.theirs, theirVersion: said.version, state: "not saved" });
      } else {
        this.state = said.fault ? `not saved: ${said.fault}` : "not saved yet; sign in again in another tab, then go on writing";
      }
    } catch {
      this.state = "not saved yet; the server does not answer, trying again";
      clearTimeout(this.timer);
      this.timer = setTimeout(() => this.save(), AGAIN);
    }
    this.saving = false;
    if (this.more) { this.more = false; this.save(); }
  },
  keepMine() {
    this.$refs.version.value = this.theirVersion;
    this.theirs = "";
    this.save();
  },
  takeTheirs() {
    this.$refs.version.value = this.theirVersion;
    const text = this.theirs;
    this.theirs = "";
    this.lastTyped = 0;
    this.step(text);
    this.put(text);
  },

  async moveKey() {
    const body = new FormData(this.$refs.text.form);
    body.set("to", document.getElementById("move-to").value);
    const answer = await fetch(`${location.pathname}?handler=Move`, { method: "POST", body, headers: { "X-Text": "1" } }).catch(() => null);
    if (!answer?.ok) { this.state = "the chart could not be moved; try again"; return; }
    const text = await answer.text();
    this.lastTyped = 0;
    this.step(text);
    this.put(text);
  },

  // A doubt is settled in the text itself, as if it had been typed.
  mend(edits) {
    let text = this.$refs.text.value;
    // What was found in another text is left alone; the new reading is on its way.
    if (document.querySelector("[data-of]")?.dataset.of !== this.mark(text)) return;
    for (const edit of edits) {
      const start = this.offset(text, edit.line, edit.column);
      if (start === null) return;
      text = text.slice(0, start) + edit.text + text.slice(start + edit.length);
    }
    this.lastTyped = 0;
    this.step(text);
    this.put(text);
  },
  mark(text) {
    let sum = 0;
    for (let i = 0; i < text.length; i++) sum = (sum + text.charCodeAt(i) * (i % 997 + 1)) % 1000000007;
    return `${text.length}-${sum}`;
  },
  offset(text, line, column) {
    const lines = text.split("\n");
    if (line > lines.length) return null;
    return lines.slice(0, line - 1).reduce((sum, l) => sum + l.length + 1, 0) + column - 1;
  },
  key(event) {
    if ((event.ctrlKey || event.metaKey) && !event.altKey && ["z", "y", "Z"].includes(event.key) && (event.target === this.$refs.text || !event.target.closest("input, textarea"))) {
      event.preventDefault();
      if (event.key === "z") this.undo();
      else this.redo();
      return;
    }
    // In the form the arrow keys carry a part earlier or later, with Alt as everywhere in this page.
    const part = event.altKey && ["ArrowUp", "ArrowDown"].includes(event.key) && event.target.closest?.("[data-form-part]");
    if (part) {
      event.preventDefault();
      const up = event.key === "ArrowUp";
      const to = Number(part.dataset.formPart) + (up ? -1 : 1);
      part.querySelector(`[data-act="${up ? "earlier" : "later"}"]:enabled`)?.click();
      // The focus goes with the part once the new reading is there.
      document.addEventListener("htmx:after:swap", () => document.querySelector(`[data-form-part="${to}"] button:enabled`)?.focus(), { once: true });
      return;
    }
    if (!event.altKey || event.ctrlKey || event.metaKey) return;
    if (event.code === "KeyG" && this.gridAt) { event.preventDefault(); this.openCell(this.gridAt); return; }
    // By the key's place, since Alt makes other letters of it on some keyboards.
    const digit = /^Digit([1-9])$/.exec(event.code)?.[1];
    const button = event.code === "KeyK" ? document.querySelector("[data-keep]") : digit && document.querySelector(`[data-mend="${digit}"]`);
    if (!button) return;
    event.preventDefault();
    button.click();
  },
  goTo(line, column) {
    const text = this.$refs.text;
    // The whole symbol is selected, whichever of its letters is in doubt.
    const lines = text.value.split("\n");
    const here = lines[line - 1] ?? "";
    const from = column - 1 - (here.slice(0, column - 1).match(/[^\s|[]*$/) ?? [""])[0].length;
    const start = lines.slice(0, line - 1).reduce((sum, l) => sum + l.length + 1, 0) + from;
    const length = (here.slice(from).match(/^[^\s|\]]+/) ?? [""])[0].length || 1;
    text.focus();
    text.setSelectionRange(start, start + length);
    text.scrollTop = Math.max(0, (line - 5) * parseFloat(getComputedStyle(text).lineHeight));
  },
});
