// What was done stays on the phone until the server has it: each entry by itself under a key of its own, so that two open pages never write over each other.
const FIRST_PAUSE = 4000, LONGEST_PAUSE = 300000, AT_ONCE = 200;

/** A name no other entry has; also where the page is not served securely. */
export function newKey() {
  if (crypto.randomUUID) return crypto.randomUUID();
  const b = crypto.getRandomValues(new Uint8Array(16));
  b[6] = b[6] & 15 | 64;
  b[8] = b[8] & 63 | 128;
  const hex = [...b].map(x => x.toString(16).padStart(2, "0")).join("");
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)].join("-");
}

export class Log {
  #place; #address; #changed; #memory = new Map(); #busy = false; #timer = 0; #pause = FIRST_PAUSE;
  /** What keeps entries from going out, in words; empty when nothing does. */
  trouble = "";
  /** Entries the server would not take, with its reasons. */
  refused = [];
  /** False when the phone lets nothing be stored. */
  keeps = true;

  constructor(student, address, changed) {
    this.#place = `tembri-my:${student}:entry:`;
    this.#address = `${address}/entries`;
    this.#changed = changed;
    window.addEventListener("online", () => this.send());
    document.addEventListener("visibilitychange", () => { if (document.visibilityState === "visible") this.send(); });
    window.addEventListener("storage", event => { if (event.key?.startsWith(this.#place)) this.#changed(); });
  }

  get waiting() {
    const found = [...this.#memory.values()];
    try {
      for (let i = 0; i < localStorage.length; i++) {
        const name = localStorage.key(i);
        if (!name.startsWith(this.#place)) continue;
        try { found.push(JSON.parse(localStorage.getItem(name))); } catch { /* not one of ours: left alone */ }
      }
    } catch { this.keeps = false; }
    return found.filter(e => e?.key).sort((a, b) => a.at < b.at ? -1 : 1);
  }

  add(entry) {
    const kept = { key: newKey(), at: new Date().toISOString(), ...entry };
    try { localStorage.setItem(this.#place + kept.key, JSON.stringify(kept)); }
    catch {
      this.keeps = false;
      this.#memory.set(kept.key, kept);
    }
    this.#changed();
    this.send();
    return kept.key;
  }

  /** Takes back what was not handed in yet; false when it is gone already. */
  forget(key) {
    const is = this.#memory.delete(key) || localStorage.getItem(this.#place + key) !== null;
    this.#remove(key);
    this.#changed();
    return is;
  }

  #remove(key) {
    this.#memory.delete(key);
    try { localStorage.removeItem(this.#place + key); } catch { /* it was never stored */ }
  }

  async send() {
    clearTimeout(this.#timer);
    if (this.#busy) return;
    const entries = this.waiting.slice(0, AT_ONCE);
    if (entries.length === 0) { this.trouble = ""; this.#changed(); return; }
    this.#busy = true;
    try { await this.#handIn(entries); }
    catch { this.trouble = navigator.onLine === false ? "no network" : "the server does not answer"; }
    this.#busy = false;
    this.#changed();
    if (this.waiting.length === 0) { this.#pause = FIRST_PAUSE; return; }
    if (!this.trouble) return this.send();
    this.#timer = setTimeout(() => this.send(), this.#pause);
    this.#pause = Math.min(LONGEST_PAUSE, this.#pause * 2);
  }

  async #handIn(entries) {
    const answer = await fetch(this.#address, {
      method: "POST", headers: { "content-type": "application/json", "X-Tembri": "script" }, body: JSON.stringify({ sentAt: new Date().toISOString(), entries }), redirect: "error",
    });
    if (answer.status === 404) { this.trouble = "this link is closed: ask your teacher for a new one"; return; }
    if (!answer.ok) { this.trouble = answer.status === 429 ? "the server asks to wait" : answer.status < 500 ? "the server did not understand: open the page again" : "the server is busy"; return; }
    const { outcomes } = await answer.json();
    for (const outcome of outcomes) {
      if (!outcome.kept) this.refused.push({ ...entries.find(e => e.key === outcome.key), fault: outcome.fault });
      this.#remove(outcome.key);
    }
    this.trouble = "";
  }
}

/** What a day's page remembers: which steps are done, how long was played. */
export class Day {
  #place;
  constructor(student, on) {
    this.#place = `tembri-my:${student}:day:${on}`;
    try { this.state = JSON.parse(localStorage.getItem(this.#place)) ?? {}; } catch { this.state = {}; }
    this.state.done ??= [];
    this.state.seconds ??= 0;
  }
  finish(step) { if (!this.state.done.includes(step)) this.state.done.push(step); this.write(); }
  write() { try { localStorage.setItem(this.#place, JSON.stringify(this.state)); } catch { /* then it is forgotten with the page */ } }
}
