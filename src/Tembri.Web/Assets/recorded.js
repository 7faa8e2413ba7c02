// Plays a recording of one's own from the file, on this device, at any tempo with the same pitch; it answers like the player of a score, so a page can put one in the other's place.
import { Clockwork } from "./player.js";

const EVERY = 40;   // ms between looks at a loop's end

export class Recorded {
  loop = null; rate = 1; #audio = new Audio(); #timer = 0;
  /**
   * @param {File} file
   * @param {{section: number, bar: number, start: number, end: number}[]} bars where each bar lies in it, in order
   */
  constructor(file, bars) {
    this.score = { bars };
    this.clockwork = Object.assign(Object.create(Clockwork.prototype), { bars, starts: bars.map(b => b.start), total: bars.at(-1).end });
    this.#audio.preservesPitch = true;
    this.#audio.src = URL.createObjectURL(file);
    this.#audio.addEventListener("ended", () => {
      this.stop();
      this.go(this.loop?.from ?? 0);
      if (this.loop) this.play();
      else this.ended?.();
    });
  }
  get playing() { return !this.#audio.paused; }

  /** True once the browser knows how to play the file. */
  ready() {
    return new Promise((yes, no) => {
      if (this.#audio.readyState >= 1) return yes();
      this.#audio.addEventListener("loadedmetadata", () => yes(), { once: true });
      this.#audio.addEventListener("error", () => no(new Error("This browser does not play the file. Another format, such as wav, will do.")), { once: true });
    });
  }
  async play() {
    this.#audio.playbackRate = this.rate;
    // Stopping while it still begins ends it as well.
    try { await this.#audio.play(); } catch (e) { if (e.name === "AbortError") return; throw e; }
    clearInterval(this.#timer);
    this.#timer = setInterval(() => this.#look(), EVERY);
  }
  stop() {
    clearInterval(this.#timer);
    this.#audio.pause();
  }
  close() {
    this.stop();
    URL.revokeObjectURL(this.#audio.src);
  }
  now() { return this.#audio.currentTime; }
  go(position) { this.#audio.currentTime = position; }
  setRate(rate) { this.#audio.playbackRate = this.rate = rate; }
  setLevel(level) { this.#audio.volume = level * level; }
  setLoop(loop) {
    this.loop = loop;
    if (loop && (this.now() < loop.from || this.now() >= loop.to)) this.go(loop.from);
  }
  #look() { if (this.loop && this.now() >= this.loop.to) this.go(this.loop.from); }
}
