// A click to practise with: short tones on the audio clock, so that they keep time.
const AHEAD = 0.3, EVERY = 60;

export class Click {
  #context = null; #timer = 0; #next = 0;
  running = false;
  async start(tempo) {
    this.#context ??= new AudioContext();
    await this.#context.resume();
    this.running = true;
    this.#next = this.#context.currentTime + 0.1;
    const look = () => {
      for (; this.#next < this.#context.currentTime + AHEAD; this.#next += 60 / tempo) this.#tick(this.#next);
    };
    look();
    this.#timer = setInterval(look, EVERY);
  }
  stop() { clearInterval(this.#timer); this.running = false; }
  #tick(when) {
    const [tone, shape] = [this.#context.createOscillator(), this.#context.createGain()];
    tone.frequency.value = 1320;
    shape.gain.setValueAtTime(0.12, when);
    shape.gain.exponentialRampToValueAtTime(0.001, when + 0.05);
    tone.connect(shape).connect(this.#context.destination);
    tone.start(when);
    tone.stop(when + 0.06);
  }
}
