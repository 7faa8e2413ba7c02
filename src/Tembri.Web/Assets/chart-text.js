// The text of a chart while it is written: the one place that changes it, keeps its steps, saves it, has it read, and asks the server for edits, one after another.
import { Draft, Saver, ask, markUnsaved } from "./saver.js";

const SAVE_PAUSE = 900;    // ms without typing before it is saved
const READ_PAUSE = 40;     // ms for letters typed together
const AGAIN_PAUSE = 2000;  // ms before a reading that failed is asked for again; doubled each time
const LONGEST_PAUSE = 30000;
const BURST = 600;         // ms within which typing is one step to undo
const MOST_STEPS = 120;
const UNSTORABLE = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f\ufffe\uffff]/;

/** A mark of a text, as the server puts it into what it read. */
const markOf = text => {
  let sum = 0;
  for (let i = 0; i < text.length; i++) sum = (sum + text.charCodeAt(i) * (i % 997 + 1)) % 1000000007;
  return `${text.length}-${sum}`;
};

/**
 * Says what happens by events: "steps" when undo or redo changed, "theirs" when another tab saved first, "read" with the html of a new reading.
 * `tell` says the state of saving in words, `said` what a reading meets.
 */
export class ChartText extends EventTarget {
  #form; #box; #version; #tell; #said;
  #steps = []; #at = 0; #lastTyped = 0;
  #saver; #draft; #saveTimer = 0;
  #readTimer = 0; #reading = false; #readAgain = false; #readPause = 0;
  #edits = Promise.resolve(); #waiting = 0;

  constructor({ form, box, version, song, tell, said }) {
    super();
    [this.#form, this.#box, this.#version, this.song, this.#tell, this.#said] = [form, box, version, song, tell, said];
    this.#saver = new Saver(tell);
    this.#draft = new Draft(location.pathname);
    this.theirs = null;
    // A new song has arrived under an address of its own.
    if (new URLSearchParams(location.search).has("saved")) new Draft("/songs/new").forget();
    box.addEventListener("input", () => this.#typed());
    form.addEventListener("submit", event => { if (!event.submitter?.hasAttribute("formaction")) this.#submitted(event); });
  }

  get value() { return this.#box.value; }
  get mark() { return markOf(this.#box.value); }
  get noUndo() { return this.#at === 0; }
  get noRedo() { return this.#at >= this.#steps.length - 1; }
  /** True while an edit is on its way. */
  get isEditing() { return this.#waiting > 0; }

  /** Takes up what the tab remembers to undo, and what was typed here and never reached the server. */
  restore() {
    this.#recallSteps();
    const kept = this.#draft.recall();
    if (kept && typeof kept.text === "string" && kept.text !== this.value) {
      if (this.song) this.#version.value = kept.version;
      this.change(kept.text);
      this.#tell(this.song ? "not saved yet" : "what you wrote here before is back; it is not saved yet");
    } else this.#draft.forget();
    this.#stepped();
  }

  // Undo and redo, kept for the tab so that a reload loses nothing.
  get #place() { return `tembri-chart-${this.song ?? "new"}`; }
  #recallSteps() {
    const text = this.value;
    let kept = null;
    try { kept = JSON.parse(sessionStorage.getItem(this.#place)); } catch { /* nothing kept */ }
    if (kept?.steps?.length && (kept.version === this.#version.value || kept.steps[kept.at] === text)) {
      [this.#steps, this.#at] = [kept.steps, kept.at];
      if (kept.steps[kept.at] !== text && (this.song || !text)) this.#put(kept.steps[kept.at]);
    } else [this.#steps, this.#at] = [[text], 0];
  }
  #stepped() {
    try { sessionStorage.setItem(this.#place, JSON.stringify({ version: this.#version.value, steps: this.#steps, at: this.#at })); } catch { /* full: undo then ends with the page */ }
    this.dispatchEvent(new Event("steps"));
  }
  #step(text) {
    const now = Date.now();
    if (now - this.#lastTyped < BURST && this.#at === this.#steps.length - 1 && this.#at > 0) this.#steps[this.#at] = text;
    else {
      this.#steps.splice(this.#at + 1, Infinity, text);
      if (this.#steps.length > MOST_STEPS) this.#steps.shift();
      this.#at = this.#steps.length - 1;
    }
    this.#lastTyped = now;
    this.#stepped();
  }
  undo() { if (!this.noUndo) this.#goTo(this.#at - 1); }
  redo() { if (!this.noRedo) this.#goTo(this.#at + 1); }
  #goTo(at) {
    [this.#at, this.#lastTyped] = [at, 0];
    this.#put(this.#steps[at]);
    this.#stepped();
  }

  /** Changes the text as a step of its own. */
  change(text) {
    this.#lastTyped = 0;
    this.#step(text);
    this.#lastTyped = 0;
    this.#put(text);
  }
  #put(text) {
    const box = this.#box;
    if (box.value === text) return;
    const { scrollTop, selectionStart } = box;
    box.value = text;
    box.setSelectionRange(Math.min(selectionStart, text.length), Math.min(selectionStart, text.length));
    box.scrollTop = scrollTop;
    this.#changed();
  }
  #typed() {
    // What cannot be stored comes with text from elsewhere now and then, and is seen by nobody.
    const box = this.#box;
    if (UNSTORABLE.test(box.value)) {
      const at = box.selectionStart;
      box.value = box.value.replace(new RegExp(UNSTORABLE, "g"), "");
      box.setSelectionRange(Math.min(at, box.value.length), Math.min(at, box.value.length));
    }
    this.#step(box.value);
    this.#changed();
  }
  #changed() {
    this.#draft.keep({ version: this.#version.value, text: this.value });
    markUnsaved(this.#box, true);
    this.read();
    if (!this.song) return;
    this.#tell("not saved yet");
    clearTimeout(this.#saveTimer);
    this.#saveTimer = setTimeout(() => this.save(), SAVE_PAUSE);
  }

  /** The form is sent as a whole: a new song. An old one is saved like everything typed. */
  #submitted(event) {
    if (this.song) { event.preventDefault(); this.save(); return; }
    // Should the answer be a fault, the text is still here when the page is opened again.
    markUnsaved(this.#box, false);
    sessionStorage.removeItem(this.#place);
  }

  save() {
    clearTimeout(this.#saveTimer);
    if (this.theirs || !this.song) return;
    let sent = "";
    this.#saver.send({
      name: "chart", address: `${location.pathname}?handler=Keep`,
      body: () => { sent = this.value; return new FormData(this.#form); },
      taken: result => this.#saved(result, sent),
    });
  }
  #saved(result, sent) {
    if (result.ok && Number.isInteger(result.data.version)) {
      this.#version.value = result.data.version;
      this.#stepped();
      // What was typed meanwhile is on its way already.
      if (this.value !== sent) { this.#tell("not saved yet"); this.save(); return; }
      this.#draft.forget();
      markUnsaved(this.#box, false);
    } else if (result.conflict && typeof result.data.theirs === "string") {
      this.theirs = { text: result.data.theirs, version: result.data.version };
      this.#tell("not saved");
      this.dispatchEvent(new Event("theirs"));
    } else this.#tell(result.status === 404 ? "not saved: this song was removed; your text is still in the box" : `not saved: ${result.why || "the answer was not what this page asked for"}`);
  }
  keepMine() {
    this.#version.value = this.theirs.version;
    this.theirs = null;
    this.dispatchEvent(new Event("theirs"));
    this.save();
  }
  takeTheirs() {
    const { text, version } = this.theirs;
    this.#version.value = version;
    this.theirs = null;
    this.dispatchEvent(new Event("theirs"));
    this.change(text);
  }

  /** Has the text read: one reading at a time, and the newest text last. */
  read() {
    if (this.#reading) { this.#readAgain = true; return; }
    clearTimeout(this.#readTimer);
    this.#readTimer = setTimeout(() => this.#readNow(), READ_PAUSE);
  }
  async #readNow() {
    this.#reading = true;
    this.#readAgain = false;
    const result = await ask(`${location.pathname}?handler=Check`, new FormData(this.#form), "html");
    this.#reading = false;
    if (result.html !== undefined) {
      if (this.#readPause > 0) this.#said("");
      this.#readPause = 0;
      this.dispatchEvent(new CustomEvent("read", { detail: result.html }));
    } else if (result.again) {
      this.#readPause = Math.min(LONGEST_PAUSE, this.#readPause * 2 || AGAIN_PAUSE);
      this.#said(`The drawing is of an older text: ${result.why}. It is asked for again by itself.`, result.signedOut);
      this.#readTimer = setTimeout(() => this.#readNow(), this.#readPause);
      return;
    } else this.#said(`The drawing is of an older text: ${result.why}.`);
    if (this.#readAgain) this.read();
  }

  /** Asks for an edit, after those before it. It is made in the text as it stands then; answers { done } or { fault, refused, signedOut }. */
  edit(handler, fields, before) {
    this.#waiting++;
    const turn = this.#edits
      .then(() => this.#sendEdit(handler, fields, before))
      .catch(() => ({ fault: "That could not be done; try again." }))
      .finally(() => { this.#waiting--; });
    this.#edits = turn;
    return turn;
  }
  async #sendEdit(handler, fields, before) {
    for (;;) {
      const body = new FormData(this.#form);
      for (const [name, value] of Object.entries(fields)) body.set(name, value);
      const asked = this.value;
      const result = await ask(`${location.pathname}?handler=${handler}`, body);
      if (!result.ok || typeof result.data.text !== "string") return { fault: result.why, refused: result.refused === true, signedOut: result.signedOut === true };
      // The text was written in meanwhile: the edit is made again, in what stands there now.
      if (this.value !== asked) continue;
      if (result.data.text !== asked) {
        before?.();
        this.change(result.data.text);
      }
      return { done: true };
    }
  }

  /** Changes places of the text, { line, column, length, text } from the last to the first; false when the text is another than the one they were found in. */
  apply(edits, of) {
    if (of !== this.mark) return false;
    let text = this.value;
    for (const edit of edits) {
      const lines = text.split("\n");
      if (edit.line > lines.length) return false;
      const start = lines.slice(0, edit.line - 1).reduce((sum, l) => sum + l.length + 1, 0) + edit.column - 1;
      text = text.slice(0, start) + edit.text + text.slice(start + edit.length);
    }
    this.change(text);
    return true;
  }

  /** Selects the symbol at a place, whichever of its letters is meant. */
  select(line, column) {
    const box = this.#box;
    const lines = box.value.split("\n");
    const here = lines[line - 1] ?? "";
    const from = column - 1 - (here.slice(0, column - 1).match(/[^\s|[]*$/) ?? [""])[0].length;
    const start = lines.slice(0, line - 1).reduce((sum, l) => sum + l.length + 1, 0) + from;
    const length = (here.slice(from).match(/^[^\s|\]]+/) ?? [""])[0].length || 1;
    box.focus();
    box.setSelectionRange(start, start + length);
    box.scrollTop = Math.max(0, (line - 5) * parseFloat(getComputedStyle(box).lineHeight));
  }
}
