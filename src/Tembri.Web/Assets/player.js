// Plays a score. The position is always worked out from the audio clock, so nothing drifts; events are handed to it a little ahead of time.
import { Strings } from "./plucked.js";

const AHEAD = 0.25;          // seconds of sound handed over in advance
const EVERY = 60;            // ms between looks
const STRING_GAP = 0.012;    // seconds from string to string in a stroke
const LEAD = 0.08;           // seconds before the first sound

/** Seconds at the record's tempo for a place in quarter notes, bars at their pace. */
export class Clockwork {
  constructor(score) {
    this.bars = score.bars;
    this.starts = [];
    let seconds = 0;
    for (const bar of score.bars) {
      this.starts.push(seconds);
      seconds += bar.length * 60 / (score.tempo * bar.pace);
    }
    this.total = seconds;
    this.tempo = score.tempo;
  }
  barAt(quarters) {
    let low = 0, high = this.bars.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (this.bars[middle].at <= quarters + 1e-6) low = middle;
      else high = middle - 1;
    }
    return low;
  }
  seconds(quarters) {
    const i = this.barAt(quarters);
    const bar = this.bars[i];
    return this.starts[i] + (quarters - bar.at) * 60 / (this.tempo * bar.pace);
  }
  barAtSeconds(seconds) {
    let low = 0, high = this.bars.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (this.starts[middle] <= seconds + 1e-6) low = middle;
      else high = middle - 1;
    }
    return low;
  }
}

/** The first entry of a list in order for which a test holds; the length of the list when it holds for none. */
function first(list, holds) {
  let low = 0, high = list.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (holds(list[middle])) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** All sounds of a version between two places, in seconds at the record's tempo: strings of strokes and, when asked, clicks. Strokes and bars come in order of time, so only those between are looked at. */
export function events(score, clockwork, version, from, to, click) {
  const found = [];
  const { strokes } = score.versions[version];
  for (let i = first(strokes, s => clockwork.seconds(s.at) >= from - 1e-9); i < strokes.length; i++) {
    const stroke = strokes[i];
    const at = clockwork.seconds(stroke.at);
    if (at >= to - 1e-9) break;
    found.push({ kind: "stroke", at, until: clockwork.seconds(Math.min(stroke.at + stroke.length, score.length - 1e-6)), notes: stroke.notes, damped: stroke.damped === 1, strength: stroke.strength });
  }
  if (click)
    for (let i = clockwork.barAtSeconds(from); i < score.bars.length && clockwork.starts[i] < to; i++) {
      const bar = score.bars[i];
      for (let beat = 0; beat * bar.beat < bar.length - 1e-9; beat++) {
        const at = clockwork.seconds(bar.at + beat * bar.beat);
        if (at >= from - 1e-9 && at < to - 1e-9) found.push({ kind: "click", at, strong: beat === 0 });
      }
    }
  return found.sort((a, b) => a.at - b.at);
}

/** Puts one event on a context's clock. Returns the nodes, so that they can be silenced. */
export function sound(context, strings, out, event, when, rate) {
  const nodes = [];
  if (event.kind === "click") {
    const tone = context.createOscillator();
    const shape = context.createGain();
    tone.frequency.value = event.strong ? 1760 : 1320;
    shape.gain.setValueAtTime(event.strong ? 0.35 : 0.22, when);
    shape.gain.exponentialRampToValueAtTime(0.001, when + 0.05);
    tone.connect(shape).connect(out);
    tone.start(when);
    tone.stop(when + 0.06);
    return [tone];
  }
  const stop = when + (event.until - event.at) / rate;
  if (event.damped) {
    const rustle = context.createBufferSource();
    const shape = context.createGain();
    rustle.buffer = strings.damped();
    shape.gain.value = event.strength;
    rustle.connect(shape).connect(out);
    rustle.start(when);
    return [rustle];
  }
  event.notes.forEach((pitch, i) => {
    const string = context.createBufferSource();
    const shape = context.createGain();
    const start = when + Math.min(i * STRING_GAP, (stop - when) * 0.5);
    string.buffer = strings.of(pitch);
    shape.gain.setValueAtTime(0.5 * event.strength, start);
    shape.gain.setValueAtTime(0.5 * event.strength, Math.max(start, stop - 0.03));
    shape.gain.linearRampToValueAtTime(0, stop + 0.05);
    string.connect(shape).connect(out);
    string.start(start);
    string.stop(stop + 0.06);
    nodes.push(string);
  });
  return nodes;
}

export class Player {
  #context; #strings; #gain; #timer; #live = [];
  constructor(score) {
    this.score = score;
    this.clockwork = new Clockwork(score);
    Object.assign(this, { version: "record", rate: 1, level: 0.4, click: false, loop: null, playing: false, position: 0, log: [] });
  }

  /** Begins at the present position; with a bar of clicks before it when asked. */
  async play(countIn) {
    this.#context ??= new AudioContext();
    await this.#context.resume();
    if (!this.#strings) {
      this.#strings = new Strings(this.#context);
      const soft = this.#context.createDynamicsCompressor();
      this.#gain = this.#context.createGain();
      this.#gain.connect(soft).connect(this.#context.destination);
    }
    this.setLevel(this.level);
    if (this.loop && (this.position < this.loop.from - 1e-6 || this.position >= this.loop.to - 1e-6)) this.position = this.loop.from;
    if (this.position >= this.clockwork.total - 0.01) this.position = 0;
    let begin = this.#context.currentTime + LEAD;
    if (countIn) begin += this.#countIn(begin);
    this.#anchor(begin, this.position);
    this.playing = true;
    this.#look();
    this.#timer = setInterval(() => this.#look(), EVERY);
  }

  stop() {
    if (this.playing) this.position = this.now();
    this.playing = false;
    clearInterval(this.#timer);
    this.#silence(0);
  }

  /** Where the song is now, seconds at the record's tempo; worked out from the audio clock. */
  now() {
    if (!this.playing) return this.position;
    const at = this.#start.position + Math.max(0, this.#context.currentTime - this.#start.time) * this.rate;
    return this.#wrap(at);
  }

  go(position) {
    this.position = Math.max(0, Math.min(position, this.clockwork.total - 0.001));
    if (this.playing) this.#again(this.position);
  }

  setVersion(version) { this.version = version; if (this.playing) this.#again(this.now()); }
  setRate(rate) { const here = this.now(); this.rate = rate; if (this.playing) this.#again(here); }
  setClick(click) { this.click = click; if (this.playing) this.#again(this.now()); }
  setLoop(loop) { const here = this.now(); this.loop = loop; if (this.playing) this.#again(loop && (here < loop.from || here >= loop.to) ? loop.from : here); }
  setLevel(level) { this.level = level; this.#gain?.gain.setTargetAtTime(level * level, this.#context.currentTime, 0.02); }

  #start = { time: 0, position: 0 };
  #done = 0;   // song time up to which everything was handed over, not wrapped

  #anchor(time, position) { this.#start = { time, position }; this.#done = position; }

  #again(position) {
    this.#silence(0.01);
    this.#anchor(this.#context.currentTime + 0.03, position);
    this.#look();
  }

  #wrap(at) {
    if (!this.loop || at < this.loop.to) return at;
    return this.loop.from + (at - this.loop.from) % (this.loop.to - this.loop.from);
  }

  #look() {
    const { time, position } = this.#start;
    const horizon = position + (this.#context.currentTime + AHEAD - time) * this.rate;
    const end = this.loop ? Infinity : this.clockwork.total;
    // Song time runs on through a loop; each piece of it is looked up where it falls inside.
    while (this.#done < Math.min(horizon, end)) {
      const inside = this.#wrap(this.#done);
      const edge = this.loop && inside < this.loop.to ? this.loop.to : this.clockwork.total;
      const until = Math.min(inside + Math.min(horizon, end) - this.#done, edge);
      for (const event of events(this.score, this.clockwork, this.version, inside, until, this.click)) {
        const when = time + (this.#done + event.at - inside - position) / this.rate;
        this.log.push({ when, at: event.at, kind: event.kind, version: this.version, notes: event.notes });
        const nodes = sound(this.#context, this.#strings, this.#gain, event, Math.max(when, this.#context.currentTime), this.rate);
        this.#live.push({ nodes, until: when + 3 });
      }
      this.#done += Math.max(until - inside, 1e-6);
    }
    this.#live = this.#live.filter(l => l.until > this.#context.currentTime);
    if (this.log.length > 4000) this.log.splice(0, 2000);
    if (!this.loop && position + (this.#context.currentTime - time) * this.rate >= this.clockwork.total) {
      this.stop();
      this.position = 0;
      this.ended?.();
    }
  }

  #countIn(begin) {
    const bar = this.score.bars[this.clockwork.barAtSeconds(this.position)];
    const beats = Math.max(1, Math.round(bar.length / bar.beat));
    const gap = bar.beat * 60 / (this.score.tempo * bar.pace) / this.rate;
    for (let i = 0; i < beats; i++) this.#live.push({ nodes: sound(this.#context, this.#strings, this.#gain, { kind: "click", strong: i === 0 }, begin + i * gap, 1), until: begin + i * gap + 1 });
    this.log.push({ when: begin, kind: "count", beats });
    return beats * gap;
  }

  #silence(after) {
    for (const { nodes } of this.#live) for (const node of nodes) { try { node.stop(this.#context.currentTime + after); } catch { /* not begun yet */ } node.disconnect(); }
    this.#live = [];
  }
}

/** Renders part of a version without a loudspeaker: what the player would sound, as samples. Used by tests; pages do not load it. */
export async function render(score, version, from, to, rate = 1, sampleRate = 22050) {
  const clockwork = new Clockwork(score);
  const context = new OfflineAudioContext(1, Math.ceil(sampleRate * ((to - from) / rate + 0.5)), sampleRate);
  const strings = new Strings(context);
  const gain = context.createGain();
  gain.gain.value = 0.5;
  gain.connect(context.destination);
  for (const event of events(score, clockwork, version, from, to, false)) sound(context, strings, gain, event, (event.at - from) / rate, rate);
  return (await context.startRendering()).getChannelData(0);
}
