// What is seen of the stage: chords and their shapes, beats, the part of the form, words; and that the screen stays on.

export const root = document.getElementById("stage");
export const find = what => root.querySelector(what);

export const template = (chord, part) => chord < 0 ? null : find(`template[data-chord="${chord}"]`)?.content.querySelector(`[data-part-${part}]`);

export function put(place, chord, part) {
  const node = template(chord, part);
  find(place).replaceChildren(...(node ? [...node.cloneNode(true).childNodes] : []));
}

/** Marks the part of the form that is played. */
export function part(step) {
  let bars = 0;
  for (const span of root.querySelectorAll("[data-part]")) {
    const length = root.querySelectorAll(`.stage-section[data-name="${CSS.escape(span.dataset.sectionName)}"] .stage-bar`).length * Number(span.dataset.times);
    const here = step.bar >= bars && step.bar < bars + length;
    if (here) span.setAttribute("aria-current", "step"); else span.removeAttribute("aria-current");
    if (here) span.scrollIntoView({ block: "nearest", inline: "nearest" });
    bars += length;
  }
}

export function beat(filled) { [...find("[data-beats]").children].forEach((i, n) => i.toggleAttribute("data-on", n < filled)); }

/** Says something for a moment. */
export function said(words) {
  const line = find("[data-stage-said]");
  line.textContent = words;
  clearTimeout(said.timer);
  said.timer = setTimeout(() => { if (line.textContent === words) line.textContent = ""; }, 6000);
}

let awake = null;

/** The screen stays on while the stage is seen, where the browser can. */
export async function stay() {
  if (awake || document.hidden || !navigator.wakeLock) return;
  try {
    awake = await navigator.wakeLock.request("screen");
    awake.addEventListener("release", () => { awake = null; });
  } catch { /* not here, or not now */ }
}
