// The listening page: keys and knobs around the player.
import { keyOf } from "./letter-keys.js";
import { Player } from "./player.js";
import { Recorded } from "./recorded.js";

// Players keep their own state; they must stay outside what Alpine watches. One of both is heard.
let player = null, scored = null, recorded = null;
let prepared;
const sounds = new Promise(done => { prepared = done; });

/** What a tab remembers of a song's page, so that another rung or a reload goes on where it was. */
const memory = {
  place: `tembri-listening:${location.pathname}`,
  read() { try { return JSON.parse(sessionStorage.getItem(this.place)) ?? {}; } catch { return {}; } },
  write(what) { try { sessionStorage.setItem(this.place, JSON.stringify(what)); } catch { /* then it begins anew */ } },
};

const NOTE = "Starts at a moderate level. Keep it where you could still talk over it: loud sound for long hurts hearing for good.";

const listening = () => ({
  playLabel: "Play", version: "record", place: "", tempoWords: "", levelWords: "40", note: NOTE, from: null, asks: "", looped: null, own: false, choices: 0,
  get recordPressed() { return String(this.version === "record"); },
  get rungPressed() { return String(this.version === "rung"); },
  get ownPressed() { return String(this.version === "own"); },
  get isOwn() { return this.version === "own"; },

  async init() {
    this.tempo = Number(this.$root.dataset.tempo);
    try {
      const answer = await fetch(this.$root.dataset.score);
      if (!answer.ok) throw new Error();
      player = scored = new Player(await answer.json());
    } catch {
      this.note = "The sounds could not be made ready; load the page again.";
      return;
    } finally { prepared(); }
    player.ended = () => { this.playLabel = "Play"; this.show(); };
    this.resume(memory.read());
    window.addEventListener("pagehide", () => this.remember());
    // A file that was chosen before anybody listened to the field.
    if (!recorded && this.$root.querySelector("[data-own]")?.files.length) this.choose();
  },
  remember() {
    memory.write({
      tempo: this.$refs.tempo.value, level: this.$refs.level.value, click: this.$refs.click.checked, count: this.$refs.count.checked, version: this.version,
      // A file is gone with the page, and with it the places in it.
      ...(player === scored && { bar: player.clockwork.barAtSeconds(player.now()), loop: this.$refs.loop.value, looped: this.looped }),
    });
  },
  resume(known) {
    const { starts } = player.clockwork;
    if (known.tempo) this.$refs.tempo.value = known.tempo;
    if (known.level) this.$refs.level.value = known.level;
    this.$refs.click.checked = known.click === true;
    this.$refs.count.checked = known.count !== false;
    if (known.version === "rung") this.hear("rung");
    if (known.bar > 0 && known.bar < starts.length) player.go(starts[known.bar]);
    // A chart that was changed meanwhile has other bars; the loop is only taken up where it still lies in the song.
    if (known.looped && known.looped.every(b => b >= 0 && b < starts.length)) {
      this.repeat(...known.looped);
      this.$refs.loop.value = known.loop;
    }
    this.setTempo();
    this.setLevel();
    this.setClick();
    this.show();
  },
  // Follows the sound from frame to frame while there is any.
  follow() {
    if (!player.playing) return;
    this.show();
    requestAnimationFrame(() => this.follow());
  },
  show() {
    const { clockwork, score } = player;
    const index = clockwork.barAtSeconds(player.now());
    if (index === this.shown) return;
    this.shown = index;
    const bar = score.bars[index];
    document.querySelector(".listen-bar[data-sounding]")?.removeAttribute("data-sounding");
    const button = document.querySelector(`[data-bar="${bar.section}-${bar.bar}"]`);
    button?.setAttribute("data-sounding", "");
    if (player.playing) button?.scrollIntoView({ block: "nearest" });
    const name = document.querySelector(`[data-section="${bar.section}"]`)?.dataset.name;
    this.place = `${name}, bar ${bar.bar + 1} · ${index + 1} of ${score.bars.length}`;
  },
  async toggle() {
    if (!player) return;
    if (player.playing) { player.stop(); this.playLabel = "Play"; return; }
    this.playLabel = "Stop";
    await player.play(this.$refs.count.checked);
    this.follow();
  },
  hear(version) {
    if (version === "own") return this.swap(recorded);
    this.swap(scored);
    this.version = version;
    player?.setVersion(version);
  },
  hearOwn() { this.hear("own"); },
  /** Puts one player in the other's place: it goes on in the same bar, and repeats the same bars. */
  swap(other) {
    if (player === other || !other) return;
    const playing = player.playing, here = player.score.bars[player.clockwork.barAtSeconds(player.now())];
    const times = player.score.bars.slice(0, player.clockwork.barAtSeconds(player.now())).filter(b => b.section === here.section && b.bar === here.bar).length;
    const loop = this.looped?.map(i => player.score.bars[i]);
    player.stop();
    player = other;
    if (player === recorded) this.version = "own";
    this.setTempo();
    this.setLevel();
    if (!loop) player.setLoop(null);
    else {
      const first = this.places(loop[0].section, loop[0].bar)[0], last = this.places(loop[1].section, loop[1].bar).find(i => i >= first);
      if (first === undefined || last === undefined) { this.$refs.loop.value = ""; this.chooseLoop(); }
      else this.repeat(first, last);
    }
    const places = this.places(here.section, here.bar);
    if (places.length > 0) player.go(player.clockwork.starts[places[Math.min(times, places.length - 1)]]);
    this.shown = -1;
    this.show();
    if (playing) player.play(false).then(() => this.follow());
  },
  /** Takes a file of one's own: it is played from here and goes nowhere. */
  async choose() {
    const field = this.$root.querySelector("[data-own]"), file = field.files[0], turn = ++this.choices;
    await sounds;
    if (turn !== this.choices || !player) return;
    if (recorded) { this.hear("record"); recorded.close(); recorded = null; }
    this.own = false;
    if (!file) return;
    const next = new Recorded(file, JSON.parse(field.dataset.bars));
    try {
      await next.ready();
      if (turn !== this.choices) { next.close(); return; }
      recorded = next;
      recorded.ended = () => { this.playLabel = "Play"; this.show(); };
      this.own = true;
      this.hear("own");
      this.note = "The recording is played from this device. Keep it where you could still talk over it.";
    } catch (e) {
      next.close();
      this.note = e.message;
    }
  },
  hearRecord() { this.hear("record"); },
  hearRung() { this.hear("rung"); },
  setTempo() {
    const percent = Number(this.$refs.tempo.value);
    this.tempoWords = `${Math.round(this.tempo * percent / 100)} a minute, ${percent} %`;
    player?.setRate(percent / 100);
  },
  setLevel() { this.levelWords = this.$refs.level.value; player?.setLevel(Number(this.$refs.level.value) / 100); },
  setClick() { scored?.setClick(this.$refs.click.checked); },

  // Every place a bar of the chart is played at, as an index into the played bars.
  places(section, bar) { return player.score.bars.flatMap((b, i) => b.section === section && b.bar === bar ? [i] : []); },
  nearest(section, bar) {
    const here = player.clockwork.barAtSeconds(player.now());
    return this.places(section, bar).sort((a, b) => Math.abs(a - here) - Math.abs(b - here))[0];
  },
  pick(event) {
    const button = event.target.closest("[data-bar]");
    const [section, bar] = button.dataset.bar.split("-").map(Number);
    const index = this.nearest(section, bar);
    if (index === undefined) { this.note = "The form does not play this section, so it cannot be heard."; return; }
    if ((event.shiftKey || this.asks === "last") && this.from !== null) {
      this.asks = "";
      this.repeat(Math.min(this.from, index), Math.max(this.from, index));
      this.$refs.loop.value = "bars";
      return;
    }
    this.from = index;
    if (this.asks === "first") {
      this.asks = "last";
      this.note = "Now press the last bar to repeat.";
    }
    player.go(player.clockwork.starts[index]);
    this.shown = -1;
    this.show();
  },
  repeat(first, last) {
    const { clockwork } = player;
    player.setLoop({ from: clockwork.starts[first], to: last + 1 < clockwork.starts.length ? clockwork.starts[last + 1] : clockwork.total });
    document.querySelectorAll(".listen-bar[data-looped]").forEach(b => b.removeAttribute("data-looped"));
    for (const bar of player.score.bars.slice(first, last + 1)) document.querySelector(`[data-bar="${bar.section}-${bar.bar}"]`)?.setAttribute("data-looped", "");
    this.looped = [first, last];
    this.note = NOTE;
  },
  chooseLoop() {
    const value = this.$refs.loop.value;
    this.asks = value === "bars" ? "first" : "";
    this.$refs.loop.blur();   // so that the keys play again
    if (value === "") {
      player.setLoop(null);
      this.looped = null;
      this.note = NOTE;
      document.querySelectorAll(".listen-bar[data-looped]").forEach(b => b.removeAttribute("data-looped"));
    } else if (value === "bars") {
      this.note = "Press the first bar to repeat.";
    } else {
      const section = Number(value);
      const first = this.nearest(section, 0);
      if (first === undefined) { this.note = "The form does not play this section, so it cannot be heard."; return; }
      let last = first;
      while (player.score.bars[last + 1]?.section === section && player.score.bars[last + 1].bar > player.score.bars[last].bar) last++;
      this.repeat(first, last);
    }
  },
  step(by) {
    const { clockwork } = player;
    const index = Math.max(0, Math.min(clockwork.starts.length - 1, clockwork.barAtSeconds(player.now()) + by));
    player.go(clockwork.starts[index]);
    this.shown = -1;
    this.show();
  },
  faster(by) {
    this.$refs.tempo.value = Number(this.$refs.tempo.value) + by;
    this.setTempo();
  },
  key(event) {
    if (!player || event.target.closest("select, textarea") || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key.startsWith("Arrow") && event.target.closest("input")) return;
    const act = {
      p: () => this.toggle(), b: () => this.hear(this.version === "record" ? "rung" : this.version === "rung" && recorded ? "own" : "record"), m: () => { this.$refs.click.checked = !this.$refs.click.checked; this.setClick(); },
      ",": () => this.faster(-5), ".": () => this.faster(5), ArrowLeft: () => this.step(-1), ArrowRight: () => this.step(1), PageUp: () => this.step(-1), PageDown: () => this.step(1),
      r: () => { this.$refs.loop.value = player.loop ? "" : String(player.score.bars[player.clockwork.barAtSeconds(player.now())].section); this.chooseLoop(); },
    }[keyOf(event)];
    if (!act) return;
    event.preventDefault();
    act();
  },
});

document.addEventListener("alpine:init", () => window.Alpine.data("listening", listening));
