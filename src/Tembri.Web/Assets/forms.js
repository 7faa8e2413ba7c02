// The forms of a student and of the studio: each change is sent as it is made, and none is lost on the way.
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

/** A form whose changes are kept as they are made. */
const keptForm = {
  state: "", theirs: false, theirVersion: "",
  start(address) {
    this.address = address;
    this.form = this.$root;
    this.place = this.$root.querySelector("[data-state]");
    this.saver = new Saver((words, signedOut) => showState(this.place, words, signedOut));
    this.draft = new Draft(location.pathname);
    const kept = this.draft.recall();
    if (kept && JSON.stringify(kept.fields) !== JSON.stringify(fieldsOf(this.form))) {
      this.fill(kept.fields);
      this.$refs.version.value = kept.version;
      this.keep();
    } else this.draft.forget();
  },
  fill(fields) {
    for (const input of this.form.querySelectorAll("input[type=checkbox], input[type=radio]")) input.checked = fields.some(([n, v]) => n === input.name && v === input.value);
    for (const [name, value] of fields) {
      const input = this.form.elements[name];
      if (!input || input instanceof RadioNodeList || input.type === "checkbox" || input.type === "hidden") continue;
      input.value = value;
      input.dispatchEvent(new Event("input"));
    }
  },
  keep() {
    if (this.theirs) return;
    this.draft.keep({ version: this.$refs.version.value, fields: fieldsOf(this.form) });
    this.saver.send({ name: "form", address: this.address, body: () => new FormData(this.form), taken: result => this.taken(result) });
  },
  taken(result) {
    if (result.ok && Number.isInteger(result.data.version)) {
      this.$refs.version.value = result.data.version;
      if (!this.saver.waits) this.draft.forget();
      this.kept?.();
      return;
    }
    if (result.conflict && Number.isInteger(result.data.version)) {
      [this.theirs, this.theirVersion] = [true, result.data.version];
      showState(this.place, `not saved: ${result.why}`);
    } else showState(this.place, `not saved: ${result.why || "the answer was not what this page asked for"}`);
    markUnsaved(this.form, true);
  },
  keepMine() {
    this.$refs.version.value = this.theirVersion;
    this.theirs = false;
    markUnsaved(this.form, false);
    this.keep();
  },
  takeTheirs() {
    this.draft.forget();
    markUnsaved(this.form, false);
    location.reload();
  },
};

export const studentForm = () => ({
  ...keptForm,
  init() { if (this.$root.dataset.saves) this.start("?handler=Keep"); },
  changed() {
    if (!this.saver) return;
    markUnsaved(this.form, false);
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.keep(), 150);
  },
  sent(event) {
    if (!this.saver) return;
    event.preventDefault();
    this.changed();
  },
  kept() { window.htmx.ajax("GET", "?handler=Fits", { target: "#fits", swap: "innerHTML" }); },
});

export const studioForm = () => ({
  ...keptForm,
  init() { this.start(location.pathname); },
  changed() {
    markUnsaved(this.form, false);
    this.draft.keep({ version: this.$refs.version.value, fields: fieldsOf(this.form) });
    showState(this.place, "not saved yet");
    markUnsaved(this.form, true);
  },
  save(event) {
    event.preventDefault();
    // A conflict was told already; saving again is the answer to it.
    if (this.theirs) { this.keepMine(); return; }
    this.keep();
  },
  kept() {
    markUnsaved(this.form, false);
    const name = document.querySelector("h1");
    if (name) name.textContent = this.form.elements["Form.Name"].value;
  },
});
