// The take-down page: buttons and keys around the text of a chart and its drawing.
import { ChartGrid } from "./chart-grid.js";
import { ChartText } from "./chart-text.js";
import { showState } from "./forms.js";
import { say } from "./page.js";

const root = document.getElementById("main");
const part = name => root.querySelector(`[data-part-of-page=${name}]`);
const box = part("text");
const tell = (words, signedOut) => showState(part("state"), words, signedOut);
const text = new ChartText({ form: box.form, box, version: part("version"), song: root.dataset.song || null, tell, said: say });
const grid = new ChartGrid(text, root, tell);

const [undo, redo, theirs] = [part("undo"), part("redo"), part("theirs")];
undo.hidden = redo.hidden = false;
undo.addEventListener("click", () => text.undo());
redo.addEventListener("click", () => text.redo());
text.addEventListener("steps", () => { [undo.disabled, redo.disabled] = [text.noUndo, text.noRedo]; });
text.addEventListener("theirs", () => {
  theirs.hidden = !text.theirs;
  part("their-text").textContent = text.theirs?.text ?? "";
});
part("keep-mine").addEventListener("click", () => text.keepMine());
part("take-theirs").addEventListener("click", () => text.takeTheirs());

root.addEventListener("click", async event => {
  const doubt = event.target.closest("[data-line]");
  if (doubt) text.select(Number(doubt.dataset.line), Number(doubt.dataset.column));
  const mend = event.target.closest("button[name=mend]");
  if (mend) {
    event.preventDefault();
    // What was found in another text is left alone; the new reading is on its way.
    text.apply(JSON.parse(mend.value), document.querySelector("[data-of]")?.dataset.of);
  }
  if (event.target.closest("[data-move]")) {
    event.preventDefault();
    const moved = await text.edit("Move", { to: document.getElementById("move-to").value });
    if (!moved.done) tell(`the chart was not moved: ${moved.fault}`, moved.signedOut);
  }
});

// "Saved." is over with the next letter; its place stays, so that nothing moves under the hand.
root.addEventListener("input", () => { for (const note of root.querySelectorAll("[data-until-changed]")) note.style.visibility = "hidden"; });

// The worked example is written where the teacher would paste: it can be undone like anything typed.
document.addEventListener("click", event => {
  if (!event.target.closest("[data-try-example]")) return;
  box.focus();
  box.setRangeText(document.querySelector("[data-example]").textContent, 0, box.value.length, "end");
  box.dispatchEvent(new Event("input", { bubbles: true }));
});
window.addEventListener("keydown", event => {
  if ((event.ctrlKey || event.metaKey) && !event.altKey && ["z", "y", "Z"].includes(event.key) && (event.target === box || !event.target.closest("input, textarea"))) {
    event.preventDefault();
    if (event.key === "z") text.undo();
    else text.redo();
    return;
  }
  // In the form the arrow keys carry a part earlier or later, with Alt as everywhere in this page.
  const row = event.altKey && ["ArrowUp", "ArrowDown"].includes(event.key) && event.target.closest?.("[data-form-part]");
  if (row) {
    event.preventDefault();
    const up = event.key === "ArrowUp";
    // The focus goes with the part once the new reading is there.
    grid.focusPart = `[data-form-part="${Number(row.dataset.formPart) + (up ? -1 : 1)}"] button:enabled`;
    row.querySelector(`[data-act="${up ? "earlier" : "later"}"]:enabled`)?.click();
    return;
  }
  if (!event.altKey || event.ctrlKey || event.metaKey) return;
  if (event.code === "KeyG" && grid.gridAt) { event.preventDefault(); grid.openCell(grid.gridAt); return; }
  // By the key's place, since Alt makes other letters of it on some keyboards.
  const digit = /^Digit([1-9])$/.exec(event.code)?.[1];
  const button = event.code === "KeyK" ? document.querySelector("[data-keep]") : digit && document.querySelector(`[data-mend="${digit}"]`);
  if (!button) return;
  event.preventDefault();
  button.click();
});

text.restore();
