// The sound of a plucked string (Karplus and Strong, 1983): a burst of noise goes round a loop as long as the pitch and is softened each time.
const SECONDS = 2.6;
const DAMPED_SECONDS = 0.09;

export class Strings {
  #damped = null; #context; #kept = new Map();
  constructor(context) { this.#context = context; }

  /** The sound of a MIDI pitch; the same every time. */
  of(pitch) {
    let buffer = this.#kept.get(pitch);
    if (!buffer) this.#kept.set(pitch, buffer = this.#make(pitch));
    return buffer;
  }

  /** A stroke over damped strings: a short rustle without pitch. */
  damped() {
    const rate = this.#context.sampleRate;
    if (this.#damped) return this.#damped;
    const buffer = this.#context.createBuffer(1, Math.floor(rate * DAMPED_SECONDS), rate);
    const out = buffer.getChannelData(0);
    let seed = 4242, low = 0, before = 0;
    for (let n = 0; n < out.length; n++) {
      seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
      low += 0.35 * (seed / 2147483648 - 1 - low);
      out[n] = (low - before) * 2 * Math.exp(-n / (rate * 0.018));
      before = low;
    }
    return this.#damped = buffer;
  }

  #make(pitch) {
    const rate = this.#context.sampleRate;
    const frequency = 440 * 2 ** ((pitch - 69) / 12);
    // The softening delays by half a sample; an all-pass takes the rest, so that the pitch is true.
    const loop = rate / frequency - 0.5;
    const size = Math.floor(loop - 0.1);
    const fraction = loop - size;
    const tune = (1 - fraction) / (1 + fraction);
    const line = new Float32Array(size);
    let seed = 1234567 + pitch * 7919;
    let smooth = 0;
    for (let i = 0; i < size; i++) {
      seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
      smooth = 0.55 * smooth + 0.45 * (seed / 2147483648 - 1);
      line[i] = smooth;
    }
    const mean = line.reduce((a, b) => a + b, 0) / size;
    for (let i = 0; i < size; i++) line[i] -= mean;
    const length = Math.floor(rate * SECONDS);
    const buffer = this.#context.createBuffer(1, length, rate);
    const out = buffer.getChannelData(0);
    // Low strings ring longer.
    const damping = 0.9965 - Math.max(0, pitch - 52) * 0.00012;
    let at = 0, last = 0, heldIn = 0, heldOut = 0;
    for (let n = 0; n < length; n++) {
      const value = line[at];
      out[n] = value;
      const soft = damping * 0.5 * (value + last);
      last = value;
      heldOut = tune * (soft - heldOut) + heldIn;
      heldIn = soft;
      line[at] = heldOut;
      at = at + 1 === size ? 0 : at + 1;
    }
    const fade = Math.floor(rate * 0.2);
    for (let i = 0; i < fade; i++) out[length - 1 - i] *= i / fade;
    return buffer;
  }
}
