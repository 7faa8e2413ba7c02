// The one way from a page to the server: what is to be kept goes out one piece after another, is tried again until it is kept, and is told truly meanwhile.

const FIRST_PAUSE = 1000;      // ms before a piece that failed is tried again; the pause doubles each time
const LONGEST_PAUSE = 60000;
const SIGNED_OUT_PAUSE = 8000; // signed out: somebody signs in in another tab soon
const TOKEN = "__RequestVerificationToken";

/** Marks requests of the pages' own scripts: they get data or a status, never another page. */
export const SCRIPT = { "X-Tembri": "script" };

const unsaved = new Set();
window.addEventListener("beforeunload", event => { if (unsaved.size > 0) event.preventDefault(); });

/** Everything that is typed and not kept on the server warns when the tab is closed. */
export const markUnsaved = (owner, is) => { if (is) unsaved.add(owner); else unsaved.delete(owner); };

/** What became of a request: `ok` with data or html; `conflict`, `refused` with the reason; or `again` with why, after how long. */
export async function ask(address, body, wants = "json") {
  let answer;
  try { answer = await fetch(address, { method: "POST", body, headers: SCRIPT, redirect: "error" }); }
  catch { return { again: true, why: navigator.onLine === false ? "there is no network" : "the server does not answer" }; }
  const type = answer.headers.get("content-type") ?? "";
  if (answer.status === 401) return { again: true, signedOut: true, why: "you are signed out" };
  if (answer.status === 429 || answer.status >= 500) {
    const said = await problem(answer, type);
    return { again: true, after: Number(answer.headers.get("retry-after")) * 1000 || 0, why: answer.status === 429 ? "the server asks to wait" : said.code === "database" ? "the database does not answer" : answer.status === 503 ? "the server is busy" : "the server has a fault" };
  }
  if (wants === "html" && type.includes("html") && answer.headers.has("x-tembri-part")) {
    const html = await answer.text();
    return answer.ok ? { ok: true, html } : { refused: true, html, why: "" };
  }
  const said = await problem(answer, type);
  if (answer.status === 400 && said.code === "form") return { again: true, stale: true, why: "the page had been open for long" };
  if (answer.ok && wants === "json" && type.includes("json")) return { ok: true, data: said };
  if (answer.status === 409) return { conflict: true, data: said, why: said.fault ?? said.detail ?? "it was changed somewhere else" };
  return { refused: true, status: answer.status, data: said, why: said.fault ?? said.detail ?? (answer.ok ? "the answer was not what this page asked for" : `the server refused it (${answer.status})`) };
}

async function problem(answer, type) {
  if (!type.includes("json")) return {};
  try { return await answer.json(); } catch { return {}; }
}

/** Gets a fresh token into all forms of the page; false while that is not possible. */
async function renewToken() {
  try {
    const answer = await fetch("/account/token", { headers: SCRIPT, redirect: "error" });
    const { token } = answer.ok ? await answer.json() : {};
    if (typeof token !== "string") return false;
    for (const field of document.querySelectorAll(`input[name=${TOKEN}]`)) field.value = token;
    return true;
  } catch { return false; }
}

const seconds = ms => ms < 1500 ? "in a second" : `in ${Math.round(ms / 1000)} seconds`;

/**
 * Sends pieces one after another until each is kept or refused.
 * A piece is { address, body(), wants, taken(result) }; body is asked for anew at each try, so that it is always the newest. `say` tells the state in words.
 */
export class Saver {
  #pieces = []; #busy = false; #pause = 0; #timer = 0; #say;

  constructor(say) {
    this.#say = say;
    const now = () => { if (!document.hidden) this.tryNow(); };
    window.addEventListener("online", now);
    window.addEventListener("focus", now);
    document.addEventListener("visibilitychange", now);
    Object.preventExtensions(this);   // what cannot be extended Alpine does not watch, and leaves its private parts alone
  }

  get waits() { return this.#pieces.length > 0; }

  /** Hands a piece over. One that is named replaces a waiting one of that name: only the newest counts. */
  send(piece) {
    const waiting = piece.name ? this.#pieces.findIndex((p, i) => p.name === piece.name && (i > 0 || !this.#busy)) : -1;
    if (waiting >= 0) this.#pieces[waiting] = piece; else this.#pieces.push(piece);
    markUnsaved(this, true);
    if (this.#timer === 0) this.#go();
  }

  tryNow() {
    if (this.#timer === 0) return;
    clearTimeout(this.#timer);
    this.#timer = 0;
    this.#go();
  }

  async #go() {
    if (this.#busy) return;
    this.#busy = true;
    while (this.#pieces.length > 0) {
      const piece = this.#pieces[0];
      this.#say("saving…");
      const result = await ask(piece.address, piece.body(), piece.wants);
      if (result.again) {
        if (result.stale && await renewToken()) { if (this.#pause === 0) { this.#pause = FIRST_PAUSE; continue; } }
        if (result.signedOut) this.#wait(result, SIGNED_OUT_PAUSE);
        else this.#wait(result, Math.max(result.after ?? 0, this.#pause = Math.min(LONGEST_PAUSE, this.#pause * 2 || FIRST_PAUSE)));
        break;
      }
      this.#pause = 0;
      this.#pieces.shift();
      if (result.ok) this.#say("saved");
      piece.taken(result);
    }
    this.#busy = false;
    markUnsaved(this, this.#pieces.length > 0);
  }

  #wait(result, pause) {
    this.#say(result.signedOut ? "not saved yet: you are signed out" : `not saved yet: ${result.why}; trying again ${seconds(pause)}`, result.signedOut === true);
    this.#timer = setTimeout(() => { this.#timer = 0; this.#go(); }, pause);
  }
}

const BEAT = 5000;        // ms after which a tab shows that it still has what it keeps
const GONE = 4 * BEAT;    // ms without a sign after which a tab is gone
const TAB = "tembri-tab";

/** A name for this tab that a reload keeps and a second tab does not share. */
const tab = sessionStorage.getItem(TAB) ?? Math.random().toString(36).slice(2);
sessionStorage.removeItem(TAB);
window.addEventListener("pagehide", () => sessionStorage.setItem(TAB, tab));

/** What was typed stays on the device until the server has it, also when the tab is closed; each tab keeps its own, and takes over what a closed one left. */
export class Draft {
  #place; #beat = 0; #value = null;

  constructor(place) {
    // Another teacher at the same browser must not meet it.
    this.#place = `tembri-unsaved:${document.body.dataset.studio ?? ""}:${place}:`;
    window.addEventListener("pagehide", () => { if (this.#value) this.#write({ left: true }); });
    Object.preventExtensions(this);
  }

  keep(value) {
    this.#value = value;
    this.#write({});
    if (this.#beat === 0) this.#beat = setInterval(() => this.#write({}), BEAT);
  }

  #write(more) {
    try { localStorage.setItem(this.#place + tab, JSON.stringify({ at: Date.now(), value: this.#value, ...more })); } catch { /* no room: then only the open tab has it */ }
  }

  forget() {
    clearInterval(this.#beat);
    [this.#beat, this.#value] = [0, null];
    try { localStorage.removeItem(this.#place + tab); } catch { /* nothing kept */ }
  }

  recall() {
    try {
      const mine = this.#read(this.#place + tab);
      if (mine) return mine.value;
      for (const key of Object.keys(localStorage).filter(k => k.startsWith(this.#place))) {
        const theirs = this.#read(key);
        if (!theirs || !theirs.left && Date.now() - theirs.at < GONE) continue;
        localStorage.removeItem(key);
        return theirs.value;
      }
    } catch { /* nothing that can be read */ }
    return null;
  }

  #read(key) {
    const text = localStorage.getItem(key);
    return text ? JSON.parse(text) : null;
  }
}

/** Names a step, so that it counts once however often it had to be sent. */
export const stepName = () => crypto.randomUUID?.() ?? `${Date.now().toString(16).padStart(8, "0").slice(-8)}-0000-4000-8000-${Math.random().toString(16).slice(2, 14).padEnd(12, "0")}`;

/** What is sent again carries the token the page has now: the one it was made with may be too old. */
export function withToken(body) {
  const now = document.querySelector(`input[name=${TOKEN}]`)?.value;
  if (now) body.set(TOKEN, now);
  return body;
}

/** Sends a form as one step; it is busy until it was answered. */
export function sendStep(saver, form, submitter, taken) {
  const body = new FormData(form, submitter);
  body.set("step", stepName());
  form.setAttribute("aria-busy", "true");
  saver.send({
    address: form.action, body: () => withToken(body), wants: "html",
    taken: result => {
      form.removeAttribute("aria-busy");
      taken(result);
    },
  });
}
