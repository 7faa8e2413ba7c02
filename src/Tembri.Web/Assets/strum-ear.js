// Hears strums of two known shapes: when one begins, which of the two sounds, and whether all its strings speak. It is fed samples and keeps a second of them; nothing else.
import FFT from "fft.js";

const FLUX = 1024, HOP = 512;            // samples: beginnings
const PRESSED = 3000, LOWEST_BIN = 2, HIGHEST_BIN = 190;   // loud and soft are pressed together; bins of a look that count
const RISES = 0.12, ABOVE = 2.2;         // mean rise of a bin at a beginning: so much, and so many times the usual one more
const LOOKS = 60, FIRST_LOOKS = 8, LEVELS = 120, STRUMS = 15;   // how many are remembered, and needed to begin with
const SPECTRUM = 16384;                  // samples, padded with zeros: pitches
const LOWEST = 70, HIGHEST = 2200;       // Hz
const SETTLES = 0.06, LISTENS = 0.36;    // s after a beginning in which the pitches are looked at
const SHORTEST = 0.11;                   // s that tell pitches
const APART = 0.13;                      // s between two beginnings
const PARTIALS = 8, JUDGED = 6, LOUDEST = 3;   // of a note; those by which shapes are told apart; so many of them are summed
const WIDE = 0.4, CLOSE = 0.7;           // semitones: how far from its place a partial is looked for; nearer than this two are not told apart
const KNOWN = 0.4;                       // share of the sound a shape has to explain
const SURER = 1.3;                       // times as loud as what speaks for the other
const TELLS = 0.1;                       // of the loudest partial: less speaks for nothing
const STAYS = 0.8;                       // of what sounded before that may still ring
const TELLING = 4, TELLS_TO = 1500;      // partials by which a string is heard to speak, up to so many Hz
const SPEAKS = 0.008, OVER = 5;          // of the loudest partial; times what lies beside it
const DROWNS = 0.002;                    // of the loudest: where so much lies beside, a string cannot be told to be silent
const BEFORE = 0.2;                      // s before a beginning
const FADES = 2.5, SHORT_FADES = 3;      // times e a second: what fades faster is muffled; where little time is there to tell, only what fades faster still
const LITTLE = 0.4;                      // s
const FOLLOWS = 0.62;                    // s after a beginning in which it is heard to fade
const LIFTS = 0.09;                      // s before the next beginning in which the hand may be off already
const FAINT = 0.002;                     // level of a strum at least
const LOUD = 0.12;                       // of the usual strum: quieter is no strum

const hertz = midi => 440 * 2 ** ((midi - 69) / 12);
const semitones = (a, b) => Math.abs(12 * Math.log2(a / b));
const median = values => { const sorted = [...values].sort((a, b) => a - b); return sorted.length ? sorted[sorted.length >> 1] : 0; };

const partialsOf = (pitches, count) => [...new Set(pitches.filter(p => p !== null))].flatMap(p => Array.from({ length: count }, (_, h) => hertz(p) * (h + 1)));

/** What tells a shape's strings apart: for each sounding string the partials no other string of the shape has. */
function stringsOf(pitches) {
  return pitches.map((pitch, string) => ({ pitch, string })).filter(s => s.pitch !== null).map(s => {
    const others = partialsOf(pitches.filter((_, i) => i !== s.string), PARTIALS + 2);
    const own = partialsOf([s.pitch], TELLING).filter(f => f < TELLS_TO && others.every(o => semitones(f, o) > CLOSE));
    return { ...s, own };
  });
}

/** Two shapes listened for. */
export class StrumEar {
  #rate; #shapes; #heard; #ring; #at = 0; #flux; #spectrum; #before = null; #fluxes = []; #frame; #next = 0; #open = null; #levels = []; #usual = [];
  /**
   * @param {number} rate samples a second
   * @param {(number|null)[][]} shapes for each shape the MIDI numbers its strings sound, lowest first; null for a string that is left out
   * @param {(strum: {at: number, shape: number, loud: boolean, missing: number[], clean: boolean}) => void} heard told of each strum: seconds, which shape (−1: neither), whether it is no stray noise, the strings that do not speak
   */
  constructor(rate, shapes, heard) {
    [this.#rate, this.#heard] = [rate, heard];
    const partials = shapes.map(pitches => partialsOf(pitches, PARTIALS).filter(f => f < HIGHEST));
    this.#shapes = shapes.map((pitches, i) => ({ strings: stringsOf(pitches), partials: partials[i], alone: partialsOf(pitches, JUDGED).filter(f => partialsOf(shapes[1 - i], PARTIALS).every(o => semitones(f, o) > CLOSE)) }));
    this.#ring = new Float32Array(1 << Math.ceil(Math.log2(rate)));
    [this.#flux, this.#spectrum] = [new FFT(FLUX), new FFT(SPECTRUM)];
    this.#frame = Float32Array.from({ length: FLUX }, (_, i) => 0.5 - 0.5 * Math.cos(2 * Math.PI * i / FLUX));
  }

  /** Takes the samples that follow. */
  feed(samples) {
    const mask = this.#ring.length - 1;
    for (const sample of samples) {
      this.#ring[this.#at++ & mask] = sample;
      if (this.#at >= FLUX && this.#at % HOP === 0) this.#look();
    }
  }

  /** Says what still sounds. */
  end() { if (this.#open) this.#close(this.#at); }

  #sample(at) { return this.#ring[at & (this.#ring.length - 1)]; }

  #magnitudes(fft, from, length, size, window) {
    const input = new Float64Array(size);
    for (let i = 0; i < length; i++) input[i] = this.#sample(from + i) * (window ? window[i] : 0.5 - 0.5 * Math.cos(2 * Math.PI * i / length));
    const out = fft.createComplexArray();
    fft.realTransform(out, input);
    return Float64Array.from({ length: size / 2 }, (_, k) => Math.hypot(out[2 * k], out[2 * k + 1]) * 2 / length);
  }

  /** Looks for a beginning in the newest samples: where much is louder than two looks before, compared with the looks around. */
  #look() {
    const now = this.#magnitudes(this.#flux, this.#at - FLUX, FLUX, FLUX, this.#frame).map(m => Math.log(1 + PRESSED * m));
    let level = 0;
    for (let i = this.#at - HOP; i < this.#at; i++) level += this.#sample(i) ** 2;
    this.#levels.push({ at: this.#at, level: Math.sqrt(level / HOP) });
    if (this.#levels.length > LEVELS) this.#levels.shift();
    const [last, then] = [this.#before?.[1], this.#before?.[0]];
    this.#before = [last ?? now, now];
    let flux = 0;
    if (then) for (let k = LOWEST_BIN; k < HIGHEST_BIN; k++) flux += Math.max(0, now[k] - then[k]);
    this.#fluxes.push(flux / HIGHEST_BIN);
    if (this.#fluxes.length > LOOKS) this.#fluxes.shift();
    if (this.#open && this.#at - this.#open.at > FOLLOWS * this.#rate) this.#close(this.#at);
    const n = this.#fluxes.length;
    const [earlier, middle, later] = [this.#fluxes[n - 3], this.#fluxes[n - 2], this.#fluxes[n - 1]];
    if (n < FIRST_LOOKS || !(middle >= earlier && middle > later)) return;
    if (middle < RISES + ABOVE * median(this.#fluxes)) return;
    const at = this.#at - FLUX;
    if (at < this.#next) return;
    this.#next = at + APART * this.#rate;
    if (this.#open) this.#close(at, LIFTS);
    this.#open = { at };
  }

  /** Judges the strum that began last, up to a moment. */
  #close(to, lifts = 0) {
    const { at } = this.#open;
    this.#open = null;
    const from = Math.round(at + SETTLES * this.#rate), length = Math.min(to - from, Math.round(LISTENS * this.#rate), SPECTRUM);
    const levels = this.#levels.filter(l => l.at > at && l.at <= to + HOP).map(l => l.level);
    const peak = Math.max(0, ...levels);
    if (peak < FAINT || peak < LOUD * median(this.#usual) || length < SHORTEST * this.#rate) return;
    const usual = median(this.#usual) || peak;
    this.#usual.push(peak);
    if (this.#usual.length > STRUMS) this.#usual.shift();
    const now = this.#spectrumOf(from, length);
    const earlier = this.#spectrumOf(at - Math.round((BEFORE + 0.01) * this.#rate), Math.round(BEFORE * this.#rate));
    // What was struck now, not what still rings from before.
    const fresh = f => Math.max(0, now.peak(f) - STAYS * earlier.peak(f));
    const loudest = now.loudest();
    const stands = f => now.peak(f) > OVER * now.beside(f);
    const silentAt = f => now.peak(f) < SPEAKS * loudest || !stands(f) && now.beside(f) < DROWNS * loudest;
    const says = this.#shapes.map(s => s.alone.map(f => stands(f) ? fresh(f) : 0).sort((x, y) => y - x).slice(0, LOUDEST).reduce((sum, m) => sum + m, 0)).map(sum => sum < TELLS * loudest ? 0 : sum);
    const known = this.#shapes.map(s => now.share(s.partials));
    // A shape that has next to nothing the other lacks is heard by the other being silent.
    const [first, second] = this.#shapes.map(s => s.alone.length);
    const silent = 2 * first <= second ? 0 : 2 * second <= first ? 1 : -1;
    let best = says[0] > SURER * says[1] ? 0 : says[1] > SURER * says[0] ? 1 : says[0] === 0 && says[1] === 0 ? silent : -1;
    if (best >= 0 && known[best] < KNOWN) best = -1;
    const muffled = this.#isMuffled(best, from, Math.round(to - lifts * this.#rate));
    const missing = best < 0 ? [] : this.#shapes[best].strings.filter(s => s.own.length > 0 && s.own.every(silentAt)).map(s => s.string);
    this.#heard({ at: at / this.#rate, shape: best, loud: peak > usual / 2, missing, clean: best >= 0 && !muffled && missing.length === 0 });
  }

  /** True when the sound of a shape fades as under a hand that lies on the strings; a strum that is too short to tell is not. */
  #isMuffled(shape, from, to) {
    const part = Math.round(SHORTEST * this.#rate);
    if (shape < 0 || to - from < 2 * part) return false;
    const [early, late] = [this.#spectrumOf(from, part), this.#spectrumOf(to - part, part)];
    const sum = of => this.#shapes[shape].partials.reduce((all, f) => all + of.peak(f), 0);
    const seconds = (to - part - from) / this.#rate;
    return Math.log(sum(early) / sum(late)) / seconds > (seconds < LITTLE ? SHORT_FADES : FADES);
  }

  #spectrumOf(from, length) {
    const magnitudes = this.#magnitudes(this.#spectrum, from, length, SPECTRUM);
    const bin = f => f * SPECTRUM / this.#rate, wide = 2 * SPECTRUM / length;   // half the width of what a tone shows as
    const around = f => { const by = Math.max(wide * 0.75, bin(f) * (2 ** (WIDE / 12) - 1)); return [Math.max(1, Math.floor(bin(f) - by)), Math.ceil(bin(f) + by)]; };
    const [low, high] = [Math.floor(bin(LOWEST)), Math.ceil(bin(HIGHEST))];
    return {
      peak(f) { const [a, b] = around(f); let m = 0; for (let k = a; k <= b; k++) m = Math.max(m, magnitudes[k]); return m; },
      /** What lies around a partial. */
      beside(f) { const [a, b] = around(f), values = []; for (let k = 1; k <= 3 * wide; k++) values.push(magnitudes[Math.max(1, a - k)], magnitudes[b + k]); return median(values); },
      loudest() { let m = 0; for (let k = low; k < high; k++) m = Math.max(m, magnitudes[k]); return m; },
      /** Which share of the sound partials explain, less what chance would give them. */
      share(partials) {
        const taken = new Set();
        for (const f of partials) { const [a, b] = around(f); for (let k = Math.max(a, low); k <= Math.min(b, high - 1); k++) taken.add(k); }
        let all = 0, sum = 0;
        for (let k = low; k < high; k++) { all += magnitudes[k]; if (taken.has(k)) sum += magnitudes[k]; }
        const chance = taken.size / (high - low);
        return (sum / all - chance) / (1 - chance);
      },
    };
  }
}

/** Counts clean changes in what is heard: a strum of the other shape, all strings speaking; one that was not clean counts once it is struck again and is. */
export class ChangeCounter {
  #last = -1; #owed = false;
  /** True when the strum makes one more clean change. */
  take(strum) {
    if (strum.shape < 0) { if (this.#last >= 0 && strum.loud) [this.#last, this.#owed] = [1 - this.#last, true]; return false; }
    if (this.#last < 0) { this.#last = strum.shape; return false; }
    if (strum.shape !== this.#last) [this.#last, this.#owed] = [strum.shape, true];
    const counts = this.#owed && strum.clean;
    if (counts) this.#owed = false;
    return counts;
  }
}
