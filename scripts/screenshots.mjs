// Takes the pictures of docs/screenshots from a running Tembri with the demo studio. Usage: node scripts/screenshots.mjs [--to FOLDER] [NAME …]
import { execFileSync } from "node:child_process";
import { createHmac } from "node:crypto";
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { browser } from "./browser.mjs";

const base = process.env.TEMBRI_ADDRESS ?? "http://127.0.0.1:5210";
const words = process.argv.slice(2);
const toAt = words.indexOf("--to");
const folder = toAt >= 0 ? words.splice(toAt, 2)[1] : join(dirname(fileURLToPath(import.meta.url)), "../docs/screenshots");
mkdirSync(folder, { recursive: true });

const { call, session, run, go, settle, click, size, end } = await browser(base);

const picture = async (name, width, height, whole = false) => {
  await size(width, height);
  const tall = whole ? await run("return document.documentElement.scrollHeight") : height;
  const { data } = await call("POST", `${session}/goog/cdp/execute`, { cmd: "Page.captureScreenshot", params: { format: "png", captureBeyondViewport: whole, ...(whole && { clip: { x: 0, y: 0, width, height: tall, scale: 1 } }) } });
  writeFileSync(join(folder, `${name}.png`), Buffer.from(data, "base64"));
  console.log(`${name}.png`);
};

// Six digits of an authenticator app (RFC 6238).
const digits = key => {
  const bits = [...key.replaceAll(" ", "")].map(c => "ABCDEFGHIJKLMNOPQRSTUVWXYZ234567".indexOf(c).toString(2).padStart(5, "0")).join("");
  const step = Buffer.alloc(8); step.writeBigUInt64BE(BigInt(Math.floor(Date.now() / 30000)));
  const hash = createHmac("sha1", Buffer.from(bits.match(/.{8}/g).map(b => parseInt(b, 2)))).update(step).digest(), at = hash[19] & 15;
  return String((hash.readUInt32BE(at) & 0x7fffffff) % 1_000_000).padStart(6, "0");
};

const views = {
  async "sign-in"() { await go("/account/sign-in"); await settle(); await click("form[action*='Demo'] button"); await settle(); },
  async songs() { await go("/songs"); await settle(`!document.body.textContent.includes("grading")`); await picture("songs", 1280, 800); },
  async ladder() { await ladderOf("Salt on the Sill", "Wren"); await picture("ladder", 1280, 800); },
  async swap() { await ladderOf("Salt on the Sill", "Wren"); await click("[data-cell='2-1']"); await settle(`document.querySelector(".options")`); await picture("swap", 1280, 800); },
  async changes() { await ladderOf("Salt on the Sill", "Wren"); await follow("/changes/"); await run("document.querySelectorAll('.change-map a')[1].dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true }))"); await settle(`document.querySelector("#change p b")`); await picture("changes", 1280, 800); },
  async "right-hand"() { await ladderOf("What the Heron Saw", "Wren"); await follow("/right-hand/"); await go(`${await run("return location.pathname")}?section=2`); await settle("document.querySelector('.step')"); await picture("right-hand", 1280, 800); },
  async stage() { await ladderOf("Salt on the Sill", "Wren"); await follow("/stage/"); for (let i = 0; i < 7; i++) await click("[data-act=next]"); await picture("stage", 1280, 800); },
  // A recording of the song with another chord in its first verse, played by fluidsynth (need_band of scripts/lib.sh).
  async record() {
    const id = await songId("Salt on the Sill"), at = mkdtempSync(join(tmpdir(), "record-"));
    const chart = readFileSync(join(dirname(fileURLToPath(import.meta.url)), "../demo/songs/salt-on-the-sill.txt"), "utf8").replace("[Cm7]window", "[Fm]window");
    const midi = await fetch(`${base}/api/v1/convert`, { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify({ chart, to: "midi" }) });
    writeFileSync(join(at, "song.mid"), Buffer.from(await midi.arrayBuffer()));
    execFileSync("fluidsynth", ["-ni", "-q", "-g", "0.6", "-r", "22050", "-F", join(at, "song.wav"), "/usr/share/sounds/sf2/FluidR3_GM.sf2", join(at, "song.mid")]);
    const forget = async () => { if (await run("const b = document.querySelector(\"form[action*='Forget'] button\"); b?.click(); return !!b")) await settle("!document.querySelector('.record-told')"); };
    await go(`/songs/${id}/record`); await settle();
    await forget();
    const field = await call("POST", `${session}/element`, { using: "css selector", value: "[data-file]" });
    await call("POST", `${session}/element/${Object.values(field)[0]}/value`, { text: join(at, "song.wav") });
    await click("[data-start]");
    for (let i = 0; i < 10 && !(await run("return !!document.querySelector('.record-told')")); i++) await settle("!!document.querySelector('.record-told')").catch(() => {});
    await picture("record", 1280, 800);
    await forget();
    rmSync(at, { recursive: true });
  },
  async doubts() {
    await go("/songs/new"); await settle();
    await run("const f = document.querySelector('textarea'); f.focus(); document.execCommand('insertText', false, arguments[0])", "title: The Kettle and the Key\nkey: Eb\ntempo: 84\ntuning: -1\nrecord capo: 2\ntake: live, capo 4, tuning -1, tempo 90\nform: Verse 1, Chorus, Verse 2\n\n[Verse 1]\n| Eb | G# . Bb . | Cm | Absus4 |\n| Eb | Ab | Bb7 . . <Eb | Eb |\n\n[Chorus]\n| [Ab]Sing it, | [Eb]kettle, | [Bb7]sing it | [Cm]low, |\n| [Ab . .]all of the | [Eb]snow |\n\n[Verse 2: as Verse 1]\n8: | Eb (hold) |\n\n[Bridge]\n| Cm | Gm | Ab | Bb7 |");
    await settle("document.querySelector('[data-doubts]')"); await picture("doubts", 1280, 800);
    await run("sessionStorage.clear(); window.onbeforeunload = null; document.querySelector('textarea').value = ''");
  },
  async places() { await ladderOf("Gravel and Thyme", "Wren"); await follow("/places/"); await picture("places", 1280, 800); },
  async listen() { await ladderOf("Down the Cellar Stair", "Wren"); await follow("/listen/"); await settle("document.querySelector('[data-place]').textContent.includes(' of ')"); await click("[data-play]"); await settle("/bar [2-9]/.test(document.querySelector('[data-place]').textContent)"); await picture("listen", 1280, 800); await click("[data-play]"); },
  async class() {
    const song = await songId("What the Heron Saw"); await go("/songs"); await settle();
    const who = await run("return ['Juniper', 'Moss', 'Sable'].map(n => [...document.querySelectorAll('.desk thead a')].find(a => a.textContent.trim() === n).getAttribute('href').split('/')[2])");
    await go(`/songs/${song}/class?${who.map(w => `with=${w}`).join("&")}`); await settle(); await picture("class", 1280, 800, true);
  },
  async sheet() { await ladderOf("What the Heron Saw", "Wren"); const at = await run("return document.querySelector('nav a[href*=\"/sheet/\"]').getAttribute('href')"); await go(at); await settle(); await picture("sheet", 1280, 800, true); },
  async today() {
    // The fullest day of the demo's week.
    const day = new Date(); day.setDate(day.getDate() + (4 - day.getDay() + 7) % 7);
    await go(`/?day=${day.toISOString().slice(0, 10)}`); await settle("![...document.querySelectorAll('tr[hx-get] p.quiet')].some(p => p.textContent === '…')"); await picture("today", 1280, 800);
  },
  async road() { await go((await studentOf("Wren")) + "/road?technique=FullBarre&level=40"); await settle(); await picture("road", 1280, 800); },
  async practice() { await go(`${await studentOf("Wren")}/practice`); await settle(); await picture("practice", 1280, 800); },
  async log() { await go(`${await studentOf("Wren")}/log`); await settle(); await picture("log", 1280, 800); },
  async phone() {
    await go(`${await studentOf("Wren")}/practice`); await settle(); await click("form[action*='Link'] button"); await settle("document.querySelector('input[readonly]')");
    await go(await run("return document.querySelector('input[readonly]').value")); await settle("document.querySelector('[data-today] li')");
    await run("[...document.querySelectorAll('[data-today] button')].find(b => b.textContent.includes(' to ')).click()"); await settle("document.querySelector('[data-view]:not([hidden]) [data-count-one]')"); await picture("phone", 390, 844);
  },
  async student() { await go("/songs"); await settle(); const at = await run("return [...document.querySelectorAll('.desk thead a')].find(a => a.textContent.trim() === 'Wren').getAttribute('href')"); await go(at); await settle(); await picture("student", 1280, 800); },
  // An office with a second factor, appointed by the command line; the last, since it leaves the demo. Its studio is erased again.
  async operator() {
    const root = join(dirname(fileURLToPath(import.meta.url)), ".."), line = (...words) => execFileSync("scripts/operator", words, { cwd: root, encoding: "utf8" });
    const email = "office@kestrel.example", password = "quiet-blue-door";
    const send = (form, fields) => run("const f = document.querySelector(arguments[0]); for (const [n, v] of arguments[1]) f.querySelector(`[name='${n}']`).value = v; f.requestSubmit()", form, Object.entries(fields));
    await go("/"); await click("form[action*='sign-out' i] button"); await settle();
    await go("/account/open"); await settle(); await send("main form", { StudioName: "Front Office", Email: email, Password: password }); await settle("location.pathname === '/'");
    line("appoint", email);
    await go("/account"); await settle(); await send("form[action$='Factor']", { password }); await settle("document.querySelector(\"form[action$='FactorOn'] code\")");
    await send("form[action$='FactorOn']", { code: digits(await run("return document.querySelector(\"form[action$='FactorOn'] code\").textContent")) }); await settle("document.querySelector('.recovery')");
    await go("/operator"); await settle(); await picture("operator", 1280, 800);
    const id = line("studios", email).split("\t")[0];
    line("erase", id, "--name", "Front Office");
  },
};
const follow = async part => { await go(await run("return document.querySelector(`nav a[href*='${arguments[0]}']`).getAttribute('href')", part)); await settle(); };
const studentOf = async name => { await go("/songs"); await settle(); return run("return [...document.querySelectorAll('.desk thead a')].find(a => a.textContent.trim() === arguments[0]).getAttribute('href')", name); };
const songId = async title => {
  await go("/songs"); await settle();
  return run("return [...document.querySelectorAll('.desk .song')].find(a => a.textContent.trim() === arguments[0]).getAttribute('href').split('/')[2]", title);
};
const ladderOf = async (song, student) => {
  const id = await songId(song);
  const at = await run("return [...document.querySelectorAll('.desk thead a')].find(a => a.textContent.trim() === arguments[0]).getAttribute('href').split('/')[2]", student);
  await go(`/songs/${id}/ladder/${at}`); await settle();
};

try {
  if (words.length > 0 && !words.includes("sign-in")) { await go("/account/sign-in"); await settle(); await click("form[action*='Demo'] button"); await settle(); }
  for (const [name, take] of Object.entries(views)) if (words.length === 0 || words.includes(name)) await take();
  for (const [name, path, width, height] of words.filter(w => w.includes("=")).map(w => { const n = w.slice(0, w.indexOf("=")), rest = w.slice(w.indexOf("=") + 1); const [p, size] = rest.split("@"); const [x, y] = (size ?? "1280x800").split("x"); return [n, p, +x, +y]; })) {
    await go(path); await settle(); await picture(name, width, height);
  }
} finally {
  await end();
}
