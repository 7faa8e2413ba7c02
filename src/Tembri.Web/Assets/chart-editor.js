// The take-down page: saves as it is written, undoes across reloads, never overwrites another tab, and settles doubts with a key.
import { chartGrid } from "./chart-grid.js";
import { showState } from "./forms.js";
import { Draft, Saver, ask, markUnsaved } from "./saver.js";

const PAUSE = 900;         // ms without typing before it is saved
const BURST = 600;         // ms within which typing is one step to undo
const MOST_STEPS = 120;
const UNSTORABLE = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f\ufffe\uffff]/;

export const chartEditor = () => ({
  ...chartGrid,
  ready: false, theirs: "", steps: [], at: 0, lastTyped: 0,
  get noUndo() { return this.at === 0; },
  get noRedo() { return this.at >= this.steps.length - 1; },

  init() {
    this.song = this.$root.dataset.song || null;
    this.saver = new Saver((words, signedOut) => this.tell(words, signedOut));
    this.draft = new Draft(location.pathname);
    // A new song has arrived under an address of its own.
    if (new URLSearchParams(location.search).has("saved")) new Draft("/songs/new").forget();
    this.$root.addEventListener("click", event => {
      const doubt = event.target.closest("[data-line]");
      if (doubt) this.goTo(Number(doubt.dataset.line), Number(doubt.dataset.column));
      if (event.target.closest("[data-move]")) { event.preventDefault(); this.moveKey(); }
      const mend = event.target.closest("button[name=mend]");
      if (mend) { event.preventDefault(); this.mend(JSON.parse(mend.value)); }
    });
    this.recall();
    this.startGrid();
    this.restore();
    this.ready = true;
  },
  tell(words, signedOut) { showState(this.$root.querySelector("[data-state]"), words, signedOut); },

  /** What was typed here and never reached the server comes back, and is saved. */
  restore() {
    const kept = this.draft.recall();
    if (!kept || typeof kept.text !== "string" || kept.text === this.$refs.text.value) { this.draft.forget(); return; }
    if (this.song) this.$refs.version.value = kept.version;
    this.lastTyped = 0;
    this.step(kept.text);
    this.put(kept.text);
    this.tell(this.song ? "not saved yet" : "what you wrote here before is back; it is not saved yet");
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
    // What cannot be stored comes with text from elsewhere now and then, and is seen by nobody.
    const box = this.$refs.text;
    if (UNSTORABLE.test(box.value)) {
      const at = box.selectionStart;
      box.value = box.value.replace(new RegExp(UNSTORABLE, "g"), "");
      box.setSelectionRange(Math.min(at, box.value.length), Math.min(at, box.value.length));
    }
    if (!this.quiet) this.step(this.$refs.text.value);
    this.draft.keep({ version: this.$refs.version.value, text: this.$refs.text.value });
    markUnsaved(this.$refs.text, true);
    if (!this.song) return;
    this.tell("not saved yet");
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.save(), PAUSE);
  },
  /** The form is sent as a whole: a new song, or by the button. An old one is saved like everything typed. */
  saved(event) {
    if (this.song) { event.preventDefault(); this.save(); return; }
    // Should the answer be a fault, the text is still here when the page is opened again.
    markUnsaved(this.$refs.text, false);
    sessionStorage.removeItem(this.place());
  },

  save() {
    clearTimeout(this.timer);
    if (this.theirs || !this.song) return;
    let sent = "";
    this.saver.send({
      name: "chart", address: `${location.pathname}?handler=Keep`,
      body: () => { sent = this.$refs.text.value; return new FormData(this.$refs.text.form); },
      taken: result => this.taken(result, sent),
    });
  },
  taken(result, sent) {
    if (result.ok && Number.isInteger(result.data.version)) {
      this.$refs.version.value = result.data.version;
      this.remember();
      // What was typed meanwhile is on its way already.
      if (this.$refs.text.value !== sent) { this.tell("not saved yet"); this.save(); return; }
      this.draft.forget();
      markUnsaved(this.$refs.text, false);
    } else if (result.conflict && typeof result.data.theirs === "string") {
      Object.assign(this, { theirs: result.data.theirs, theirVersion: result.data.version });
      this.tell("not saved");
    } else this.tell(result.status === 404 ? "not saved: this song was removed; your text is still in the box" : `not saved: ${result.why || "the answer was not what this page asked for"}`);
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
    const before = this.$refs.text.value;
    const result = await ask(`${location.pathname}?handler=Move`, body);
    if (!result.ok || typeof result.data.text !== "string") { this.tell(`the chart was not moved: ${result.why}`, result.signedOut); return; }
    // What was typed meanwhile is not written over.
    if (this.$refs.text.value !== before) { this.tell("the chart was not moved: you went on writing; move it again"); return; }
    this.lastTyped = 0;
    this.step(result.data.text);
    this.put(result.data.text);
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
