// Clean changes counted against the clock: by a press, or with the foot. The minute begins with the first; what is shorter than ten seconds tells nothing and is not kept.
const SECONDS = 60, SHORTEST = 10, LOOK = 200;

const dialog = document.getElementById("stage-count");
const form = dialog.querySelector("form");
const part = name => form.querySelector(`[data-${name}]`);
let count = 0, ends = 0, timer = 0;

function show() {
  const left = ends ? Math.max(0, ends - performance.now()) : SECONDS * 1000;
  part("count").textContent = String(count);
  part("count-keep").disabled = left > (SECONDS - SHORTEST) * 1000;
  form.elements.count.value = String(count);
  form.elements.seconds.value = String(Math.max(1, Math.round(SECONDS - left / 1000)));
  part("clock").textContent = !ends ? "Press for each clean change; the minute starts with the first" : left > 0 ? `${Math.ceil(left / 1000)} s left` : "The minute is over";
  part("tap").disabled = left === 0;
  if (left > 0) return;
  clearInterval(timer);
  part("count-keep").focus();
}

export const counting = {
  dialog,
  /** Begins for a change: its name and the frets left and reached. */
  open(change) {
    part("count-name").textContent = change.name;
    form.elements.text.value = change.name;
    form.elements.fromFrets.value = change.from.join(",");
    form.elements.toFrets.value = change.to.join(",");
    dialog.showModal();
    this.again();
  },
  again() {
    this.rest();
    [count, ends] = [0, 0];
    show();
    part("tap").focus();
  },
  tap() {
    if (part("tap").disabled) return;
    if (!ends) {
      ends = performance.now() + SECONDS * 1000;
      timer = setInterval(show, LOOK);
    }
    count++;
    show();
  },
  /** The fields hold what was counted until now. */
  done() {
    this.rest();
    show();
  },
  rest() { clearInterval(timer); },
};
