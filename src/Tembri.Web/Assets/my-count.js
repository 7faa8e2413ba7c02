// Clean changes counted against the clock, by pressing or by the microphone. The minute begins with the first; what is shorter than ten seconds tells nothing and is not kept.
// What was counted can be corrected before it is handed in.
import { ChangeCounter, StrumEar } from "./strum-ear.js";

const SECONDS = 60, SHORTEST = 10, LOOK = 200, MOST = 200;

export class Counting {
  #view; #kept; #quiet; #best; #sounds; #microphone; #worklet; #count = 0; #ends = 0; #timer = 0; #over = null; #ear = null; #names;
  /**
   * @param {HTMLElement} view
   * @param {{best?: number, sounds: (number|null)[][], names: string[]}} what the best so far, and what the strings of both shapes sound
   * @param {Microphone} microphone
   * @param {string} worklet
   * @param {() => void} quiet stops what would be heard as a strum
   * @param {(count: number, seconds: number) => void} kept told what is handed in
   */
  constructor(view, what, microphone, worklet, quiet, kept) {
    [this.#view, this.#best, this.#sounds, this.#names, this.#microphone, this.#worklet, this.#quiet, this.#kept] = [view, what.best ?? null, what.sounds, what.names, microphone, worklet, quiet, kept];
    this.#part("count-one").addEventListener("click", () => this.tap());
    this.#part("stop").addEventListener("click", () => this.stop());
    this.#part("listen").addEventListener("click", () => this.#ear ? this.rest() : this.#listen());
    for (const [name, by] of [["fewer", -1], ["more", 1]]) this.#part(name).addEventListener("click", () => { this.#count = Math.max(0, Math.min(MOST, this.#count + by)); this.#show(); });
    this.#part("hand-in").addEventListener("click", () => this.keep());
    this.#show();
  }
  #part(name) { return this.#view.querySelector(`[data-${name}]`); }

  tap() {
    this.#begin();
    this.#count++;
    this.#show();
  }

  #begin() {
    if (this.#ends) return;
    this.#ends = performance.now() + SECONDS * 1000;
    this.#timer = setInterval(() => this.#show(), LOOK);
  }

  async #listen() {
    if (this.#over !== null) this.keep();
    this.#quiet();
    this.#heard("");
    try {
      const opened = await this.#microphone.listen(this.#worklet, rate => {
        const counter = new ChangeCounter();
        this.#ear = new StrumEar(rate, this.#sounds, strum => this.#take(counter, strum));
        return samples => this.#ear?.feed(samples);
      });
      if (!opened) return;
      this.#heard(`Listening. Strum ${this.#names[0]}, then ${this.#names[1]}, and so on; the minute begins with the first strum.`);
      this.#view.dataset.listening = "";
    } catch (e) {
      this.#ear = null;
      this.#heard(e.message);
    }
    this.#show();
  }

  #take(counter, strum) {
    const counts = counter.take(strum);
    if (strum.shape < 0 && !this.#ends) return;
    this.#begin();
    if (counts) this.#count++;
    this.#heard(strum.shape < 0 ? "Heard a strum, but neither shape clearly." : strum.clean ? `${this.#names[strum.shape]}, clean` : strum.missing.length > 0 ? `${this.#names[strum.shape]}, but ${this.#strings(strum.missing)}` : `${this.#names[strum.shape]}, but it did not ring`);
    this.#show();
  }
  #strings(missing) { return missing.length === 1 ? `the ${["6th", "5th", "4th", "3rd", "2nd", "1st"][missing[0]]} string is silent` : `${missing.length} strings are silent`; }
  #heard(words) { this.#part("heard").textContent = words; }

  /** Listens no more; a minute that runs goes on, counted by pressing. */
  rest() {
    if (!this.#ear) return;
    this.#hush();
    this.#show();
  }

  #hush() {
    this.#microphone.close();
    this.#ear = null;
    delete this.#view.dataset.listening;
    if (!this.#ends) this.#heard("");
  }

  stop() {
    if (!this.#ends) return this.rest();
    const seconds = Math.min(SECONDS, Math.round(SECONDS - Math.max(0, this.#ends - performance.now()) / 1000));
    this.#hush();
    clearInterval(this.#timer);
    this.#ends = 0;
    if (seconds < SHORTEST) this.#count = 0;
    else this.#over = seconds;
    this.#show(seconds < SHORTEST ? "Too short to tell; try again" : "");
  }

  /** Hands in what was counted; also when the step is left. */
  keep() {
    if (this.#ends) this.stop();
    else if (this.#ear) this.#hush();
    if (this.#over === null) return;
    const [count, seconds] = [this.#count, this.#over];
    [this.#over, this.#count] = [null, 0];
    const aMinute = Math.round(60 * count / seconds);
    if (this.#best === null || aMinute > this.#best) this.#best = aMinute;
    this.#heard(`${count} handed in.`);
    this.#kept(count, seconds);
    this.#show();
  }

  #show(words = "") {
    const left = this.#ends ? this.#ends - performance.now() : SECONDS * 1000;
    if (this.#ends && left <= 0) return this.stop();
    const seconds = Math.ceil(left / 1000), over = this.#over !== null;
    this.#part("clock").textContent = over ? "✓" : `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
    this.#part("count").textContent = String(this.#count);
    this.#part("best").textContent = words || (this.#best === null ? "" : `${this.#best} best so far`);
    this.#part("count-one").textContent = this.#ends ? this.#ear ? "Press for one it missed" : "Count a clean change" : "Start: press at the first clean change";
    this.#part("count-one").hidden = over;
    this.#part("correct").hidden = !over;
    this.#part("hand-in").textContent = `Hand in ${this.#count}`;
    this.#part("stop").disabled = !this.#ends && !this.#ear;
    this.#part("click").disabled = this.#ear !== null;
    const listen = this.#part("listen");
    listen.textContent = this.#ear ? "Stop listening" : "Let the phone count";
    listen.setAttribute("aria-pressed", String(this.#ear !== null));
  }
}
