// A plain tuner: the string that is played, and how far it is from where it should be.
import { PitchDetector } from "pitchy";

const WINDOW = 4096, EVERY = 4;          // samples looked at; pieces between two looks
const CLEAR = 0.93, QUIET = 0.004;
const TRUE = 5;                          // cents that nobody hears
const FAR = 250;                         // cents: farther off it is no string of these
const STEADY = 3;                        // looks that have to agree

export class Tuner {
  #detector = PitchDetector.forFloat32Array(WINDOW); #window = new Float32Array(WINDOW); #strings; #rate; #heard; #pieces = 0; #last = [];
  /** @param {number[]} strings MIDI numbers of the open strings, lowest first
   * @param {(heard: {string: number, cents: number, true: boolean} | null) => void} heard told of what sounds; null for silence */
  constructor(rate, strings, heard) { [this.#rate, this.#strings, this.#heard] = [rate, strings, heard]; }

  feed(samples) {
    this.#window.copyWithin(0, samples.length);
    this.#window.set(samples, WINDOW - samples.length);
    if (++this.#pieces % EVERY) return;
    const level = Math.sqrt(this.#window.reduce((sum, x) => sum + x * x, 0) / WINDOW);
    const [hertz, clarity] = this.#detector.findPitch(this.#window, this.#rate);
    if (level < QUIET || clarity < CLEAR || hertz < 30) { this.#last = []; this.#heard(null); return; }
    const off = this.#strings.map(midi => 1200 * Math.log2(hertz / (440 * 2 ** ((midi - 69) / 12))));
    const string = off.reduce((best, cents, i) => Math.abs(cents) < Math.abs(off[best]) ? i : best, 0);
    if (Math.abs(off[string]) > FAR) return;
    this.#last = [...this.#last.filter(l => l.string === string), { string, cents: off[string] }].slice(-STEADY);
    if (this.#last.length < STEADY) return;
    const cents = this.#last.map(l => l.cents).sort((a, b) => a - b)[STEADY >> 1];
    this.#heard({ string, cents, true: Math.abs(cents) <= TRUE });
  }
}

/** The view of a tuner: one line a string, where it is and what to do. */
export class TuningView {
  #view; #microphone; #worklet;
  constructor(view, microphone, worklet) {
    [this.#view, this.#microphone, this.#worklet] = [view, microphone, worklet];
    view.querySelector("[data-tune]").addEventListener("click", () => this.#microphone.open ? this.stop() : this.start());
    view.querySelector("[data-strings]")?.addEventListener("change", () => { this.stop(); this.#choose(); });
    this.#choose();
  }
  #part(name) { return this.#view.querySelector(`[data-${name}]`); }

  #choose() {
    const wanted = this.#part("strings")?.value ?? "0";
    for (const list of this.#view.querySelectorAll("[data-tuning]")) list.hidden = list.dataset.tuning !== wanted;
  }
  get #list() { return this.#view.querySelector("[data-tuning]:not([hidden])"); }

  async start() {
    const rows = [...this.#list.querySelectorAll("[data-midi]")];
    for (const row of rows) { delete row.dataset.state; row.querySelector("output").textContent = "play it alone"; row.querySelector("[data-mark]").style.left = ""; }
    this.#say("Play one string at a time and let it ring.");
    try {
      const opened = await this.#microphone.listen(this.#worklet, rate => {
        const tuner = new Tuner(rate, rows.map(r => Number(r.dataset.midi)), heard => { if (heard) this.#show(rows, heard); });
        return samples => tuner.feed(samples);
      });
      if (opened) this.#part("tune").textContent = "Stop listening";
    } catch (e) { this.#say(e.message.replace("Count by pressing.", "Tune by ear or with another tuner.")); }
  }

  stop() {
    this.#microphone.close();
    this.#part("tune").textContent = "Listen";
  }

  #say(words) { this.#part("tune-words").textContent = words; }

  #show(rows, { string, cents, true: isTrue }) {
    const row = rows[string], by = Math.round(Math.abs(cents));
    row.dataset.state = isTrue ? "true" : cents < 0 ? "low" : "high";
    row.querySelector("[data-mark]").style.left = `${50 + Math.max(-50, Math.min(50, cents))}%`;
    row.querySelector("output").textContent = isTrue ? "in tune" : by > 100 ? `far too ${cents < 0 ? "low" : "high"}: ${cents < 0 ? "tighten" : "loosen"} slowly` : `${by} cents ${cents < 0 ? "low: tighten" : "high: loosen"}`;
    if (rows.every(r => r.dataset.state === "true")) this.#say("All strings are in tune.");
  }
}
