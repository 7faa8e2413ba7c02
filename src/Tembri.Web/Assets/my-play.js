// Playing along on the phone: the record or the rung, at any tempo, a section in a loop, clicks, a count-in.
import { Player } from "./player.js";

export class PlayAlong {
  #view; #player = null; #shown = -1;
  constructor(view) {
    this.#view = view;
    const part = name => view.querySelector(`[data-${name}]`);
    this.tempo = Number(view.dataset.tempo);
    part("play").addEventListener("click", () => this.toggle());
    for (const button of view.querySelectorAll("[data-version]")) button.addEventListener("click", () => this.#hear(button.dataset.version));
    part("rate").addEventListener("input", () => this.#setRate());
    part("level").addEventListener("input", () => this.#player?.setLevel(Number(part("level").value) / 100));
    part("clicks").addEventListener("change", () => this.#player?.setClick(part("clicks").checked));
    part("loop").addEventListener("change", () => this.#setLoop());
    for (const bar of view.querySelectorAll("[data-bar]")) bar.addEventListener("click", () => this.#go(bar.dataset.bar));
    this.#setRate();
  }
  #part(name) { return this.#view.querySelector(`[data-${name}]`); }

  /** Sets it up for a step: this tempo, this section. */
  prepare(tempo, section) {
    this.#part("rate").value = String(Math.round(100 * tempo / this.tempo));
    this.#part("loop").value = section ?? "";
    this.#setRate();
    this.#setLoop();
  }

  async toggle() {
    if (this.#player?.playing) return this.stop();
    if (!this.#player) {
      try {
        const answer = await fetch(this.#view.dataset.score);
        if (!answer.ok) throw new Error();
        this.#player = new Player(await answer.json());
      } catch {
        this.#part("sound-note").textContent = "The sounds are not on this phone yet; open this once with network.";
        return;
      }
      this.#player.ended = () => this.stop();
      this.#player.setLevel(Number(this.#part("level").value) / 100);
      this.#player.setClick(this.#part("clicks").checked);
      this.#hear(this.#view.querySelector("[data-version][aria-pressed=true]").dataset.version);
      this.#setRate();
      this.#setLoop();
    }
    this.#part("play").textContent = "Stop";
    await this.#player.play(this.#part("count-in").checked);
    this.#follow();
  }

  stop() {
    this.#player?.stop();
    this.#part("play").textContent = "Play";
    this.#view.querySelector("[data-sounding]")?.removeAttribute("data-sounding");
    this.#shown = -1;
  }

  /** The tempo that is set, beats a minute. */
  get now() { return Math.round(this.tempo * Number(this.#part("rate").value) / 100); }

  /** The section that is repeated; null for the whole song. */
  get section() { return this.#part("loop").value === "" ? null : Number(this.#part("loop").value); }

  get sectionName() { return this.section === null ? "the whole song" : this.#part("loop").selectedOptions[0].textContent; }

  #hear(version) {
    for (const button of this.#view.querySelectorAll("[data-version]")) button.setAttribute("aria-pressed", String(button.dataset.version === version));
    this.#player?.setVersion(version);
  }

  #setRate() {
    this.#part("tempo-words").textContent = `${this.now} of ${Math.round(this.tempo)} a minute`;
    this.#player?.setRate(Number(this.#part("rate").value) / 100);
  }

  #setLoop() {
    if (!this.#player) return;
    const { starts } = this.#player.clockwork;
    const bars = this.#player.score.bars;
    const first = this.section === null ? -1 : bars.findIndex(b => b.section === this.section);
    if (first < 0) return this.#player.setLoop(null);
    let last = first;
    while (last + 1 < bars.length && bars[last + 1].section === this.section && bars[last + 1].bar > bars[last].bar) last++;
    this.#player.setLoop({ from: starts[first], to: last + 1 < starts.length ? starts[last + 1] : this.#player.clockwork.total });
  }

  #go(place) {
    if (!this.#player) return;
    const [section, bar] = place.split("-").map(Number);
    const at = this.#player.score.bars.findIndex(b => b.section === section && b.bar === bar);
    if (at >= 0) this.#player.go(this.#player.clockwork.starts[at]);
  }

  #follow() {
    if (!this.#player.playing) return;
    const at = this.#player.clockwork.barAtSeconds(this.#player.now());
    if (at !== this.#shown) {
      this.#shown = at;
      this.#view.querySelector("[data-sounding]")?.removeAttribute("data-sounding");
      const bar = this.#player.score.bars[at];
      const button = this.#view.querySelector(`[data-bar="${bar.section}-${bar.bar}"]`);
      button?.setAttribute("data-sounding", "");
      button?.scrollIntoView({ block: "nearest" });
    }
    requestAnimationFrame(() => this.#follow());
  }
}
