// Clean changes counted against the clock. The minute begins with the first; what is shorter than ten seconds tells nothing and is not kept.
const SECONDS = 60, SHORTEST = 10, LOOK = 200;

export class Counting {
  #view; #kept; #best; #count = 0; #ends = 0; #timer = 0; #over = false;
  constructor(view, best, kept) {
    [this.#view, this.#best, this.#kept] = [view, best ?? null, kept];
    this.#part("count-one").addEventListener("click", () => this.tap());
    this.#part("stop").addEventListener("click", () => this.stop());
    this.#show();
  }
  #part(name) { return this.#view.querySelector(`[data-${name}]`); }
  get running() { return this.#ends > 0; }

  tap() {
    if (this.#over) { [this.#count, this.#over] = [0, false]; this.#show(); return; }
    if (!this.#ends) {
      this.#ends = performance.now() + SECONDS * 1000;
      this.#timer = setInterval(() => this.#show(), LOOK);
    }
    this.#count++;
    this.#show();
  }

  stop() {
    if (!this.#ends) return;
    const seconds = Math.min(SECONDS, Math.round(SECONDS - Math.max(0, this.#ends - performance.now()) / 1000));
    clearInterval(this.#timer);
    this.#ends = 0;
    this.#over = true;
    if (seconds >= SHORTEST) {
      this.#kept(this.#count, seconds);
      const aMinute = Math.round(60 * this.#count / seconds);
      if (this.#best === null || aMinute > this.#best) this.#best = aMinute;
    }
    this.#show(seconds < SHORTEST ? "Too short to tell; try again" : "");
  }

  #show(words = "") {
    const left = this.#ends ? this.#ends - performance.now() : SECONDS * 1000;
    if (this.#ends && left <= 0) return this.stop();
    const seconds = Math.ceil(left / 1000);
    this.#part("clock").textContent = this.#over ? words ? "–" : "✓" : `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
    this.#part("count").textContent = String(this.#count);
    this.#part("best").textContent = words || (this.#best === null ? "" : `${this.#best} best so far`);
    this.#part("count-one").textContent = this.#over ? "Count once more" : this.#ends ? "Count a clean change" : "Start: press at the first clean change";
    this.#part("stop").disabled = !this.#ends;
  }
}
