// A form that is written over a while and sent at the end: what stands in it stays on the device until the server has it.
import { Draft, markUnsaved } from "./saver.js";
import { say } from "./page.js";

/**
 * Keeps some fields of a form. Answers a function that is called after each change of them.
 * `place` names what is written; `put` is called once they were put back.
 */
export function keepForm(form, names, place, put) {
  const draft = new Draft(place);
  const fields = names.map(name => form.elements[name]).filter(Boolean);
  const values = () => fields.map(f => f.value);
  // What was sent and not refused is on the server; what was refused stands in the form and is not.
  const refused = document.querySelector("main > .note[role=alert]") !== null;
  const first = refused ? "" : JSON.stringify(values());
  const kept = draft.recall();
  const wasKept = Array.isArray(kept?.values) && kept.values.length === fields.length && !(kept.sent && !refused);
  if (refused && (!wasKept || JSON.stringify(kept.values) === JSON.stringify(values()))) {
    markUnsaved(form, true);
    draft.keep({ values: values() });
  } else if (wasKept && JSON.stringify(kept.values) !== first) {
    fields.forEach((f, i) => { f.value = kept.values[i]; });
    say("What you wrote here before is back; it is not in the chart yet.");
    markUnsaved(form, true);
    put();
  } else draft.forget();
  form.addEventListener("submit", () => {
    markUnsaved(form, false);
    draft.keep({ values: values(), sent: true });
  });
  return () => {
    const changed = JSON.stringify(values()) !== first;
    markUnsaved(form, changed);
    if (changed) draft.keep({ values: values() });
    else draft.forget();
  };
}
