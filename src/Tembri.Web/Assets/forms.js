// Forms that are kept as they are filled in: each change is sent, and none is lost on the way.
import { Saver, Draft, markUnsaved } from "./saver.js";

/** Words of a state, with a way to sign in while that is what is missing. */
export function showState(place, words, signedOut) {
  if (!place) return;
  place.textContent = words;
  place.toggleAttribute("data-unsaved", words.startsWith("not saved"));
  if (!signedOut) return;
  const way = document.createElement("a");
  way.href = "/account/sign-in";
  way.target = "_blank";
  way.rel = "opener";
  way.textContent = "sign in in another tab";
  way.title = "What you have here is saved by itself then";
  place.append(" · ", way);
}

const fieldsOf = form => [...new FormData(form)].filter(([name]) => !name.startsWith("__") && !name.endsWith("Version"));

/** A form whose changes are kept as they are made; `kept` is told when one was. */
export class KeptForm {
  #form; #address; #version; #place; #saver; #draft; #kept; #theirVersion = null;

  constructor(form, address, kept = () => {}) {
    [this.#form, this.#address, this.#kept] = [form, address, kept];
    this.#version = form.querySelector("[data-version]");
    this.#place = form.querySelector("[data-state]");
    this.#saver = new Saver((words, signedOut) => this.say(words, signedOut));
    this.#draft = new Draft(location.pathname);
    form.querySelector("[data-keep-mine]")?.addEventListener("click", () => this.keepMine());
    form.querySelector("[data-take-theirs]")?.addEventListener("click", () => this.#takeTheirs());
    const left = this.#draft.recall();
    if (left && JSON.stringify(left.fields) !== JSON.stringify(fieldsOf(form))) {
      this.#fill(left.fields);
      this.#version.value = left.version;
      this.keep();
    } else this.#draft.forget();
  }

  /** True while another tab's change has not been settled. */
  get isContested() { return this.#theirVersion !== null; }

  say(words, signedOut) { showState(this.#place, words, signedOut); }

  #fill(fields) {
    for (const input of this.#form.querySelectorAll("input[type=checkbox], input[type=radio]")) input.checked = fields.some(([n, v]) => n === input.name && v === input.value);
    for (const [name, value] of fields) {
      const input = this.#form.elements[name];
      if (!input || input instanceof RadioNodeList || input.type === "checkbox" || input.type === "hidden") continue;
      input.value = value;
      input.dispatchEvent(new Event("input"));
    }
  }

  /** What the form holds stays on this device until the server has it. */
  note() { this.#draft.keep({ version: this.#version.value, fields: fieldsOf(this.#form) }); }

  keep() {
    if (this.isContested) return;
    this.note();
    this.#saver.send({ name: "form", address: this.#address, body: () => new FormData(this.#form), taken: result => this.#taken(result) });
  }
  #taken(result) {
    if (result.ok && Number.isInteger(result.data.version)) {
      this.#version.value = result.data.version;
      if (!this.#saver.waits) this.#draft.forget();
      this.#kept();
      return;
    }
    if (result.conflict && Number.isInteger(result.data.version)) {
      this.#theirVersion = result.data.version;
      this.#showContested();
      this.say(`not saved: ${result.why}`);
    } else this.say(`not saved: ${result.why || "the answer was not what this page asked for"}`);
    markUnsaved(this.#form, true);
  }
  #showContested() {
    const note = this.#form.querySelector("[data-theirs]");
    if (note) note.hidden = !this.isContested;
  }
  keepMine() {
    this.#version.value = this.#theirVersion;
    this.#theirVersion = null;
    this.#showContested();
    markUnsaved(this.#form, false);
    this.keep();
  }
  #takeTheirs() {
    this.#draft.forget();
    markUnsaved(this.#form, false);
    location.reload();
  }
}
