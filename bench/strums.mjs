// How well the phone counts: strums of two shapes in turn, played by fluidsynth on three guitars at several paces, some of them muffled or with a silent string.
// Usage: node bench/strums.mjs [NOISE in dB below the music] [some: every third pair, no silent strings] prints a table; needs `npm ci` and need_band of scripts/lib.sh.
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import * as esbuild from "esbuild";

const here = dirname(fileURLToPath(import.meta.url));
const folder = mkdtempSync(join(tmpdir(), "strums-"));
await esbuild.build({ entryPoints: [join(here, "../src/Tembri.Web/Assets/strum-probe.js")], outfile: join(folder, "probe.mjs"), bundle: true, format: "esm", platform: "node" });
const { samplesOf, countIn } = await import(join(folder, "probe.mjs"));

const GUITARS = { nylon: 24, steel: 25, electric: 27 }, PACES = [30, 60, 100], STRUMS = 31, ODD = 6, RATE = 48000;
const OPEN = [40, 45, 50, 55, 59, 64];
const SHAPES = { C: "x32010", G: "320003", Am: "x02210", Em: "022000", D: "xx0232", F: "133211", Bm: "x24432", E: "022100", A: "x02220", Dm: "xx0231", Fmaj7: "xx3210", Am7: "x02010", Cadd9: "x32033", "G 3 4": "320033", E7: "020100", B7: "x21202" };
const PAIRS = ["C-G", "C-Am", "G-D", "Em-Am", "F-C", "Bm-G", "E-A", "Dm-Fmaj7", "C-Am7", "Cadd9-G 3 4", "E-E7", "B7-E"];
const noise = Number(process.argv.slice(2).find(a => Number(a)) || 0), some = process.argv.includes("some");

const pitches = name => [...SHAPES[name]].map((f, s) => f === "x" ? null : OPEN[s] + Number(f));
/** Numbers from a seed (Mulberry32). */
const numbers = seed => () => { seed = seed + 0x6D2B79F5 >>> 0; let t = seed; t = Math.imul(t ^ t >>> 15, t | 1); t ^= t + Math.imul(t ^ t >>> 7, t | 61); return ((t ^ t >>> 14) >>> 0) / 4294967296; };
const length = n => { const bytes = [n & 127]; while (n >>= 7) bytes.unshift(n & 127 | 128); return bytes; };

/** Writes a Standard MIDI file of 960 ticks a second and has it played. */
function play(strums, program, random) {
  const events = [[0, [0xC0, program]], [0, [0xE0, ...(bend => [bend & 127, bend >> 7])(8192 + Math.round((random() - 0.5) * 600))]]];
  strums.forEach((strum, i) => {
    const next = strums[i + 1]?.at ?? strum.at + 2, each = 0.006 + 0.008 * random();
    strum.pitches.filter((p, s) => p !== null && s !== strum.silent).forEach((pitch, s) => {
      const on = strum.at + s * each, off = strum.muffled ? on + 0.06 : Math.max(on + 0.1, next - 0.03 - 0.05 * random());
      events.push([on, [0x90, pitch, 72 + Math.floor(26 * random())]], [off, [0x80, pitch, 0]]);
    });
    if (strum.damped) events.push([strum.at - 0.001, [0xC0, 28]], [next - 0.02, [0xC0, program]]);
  });
  const track = [0, 0xFF, 0x51, 3, 0x07, 0xA1, 0x20];
  let at = 0;
  for (const [seconds, bytes] of events.sort((a, b) => a[0] - b[0])) { const tick = Math.max(at, Math.round(seconds * 960)); track.push(...length(tick - at), ...bytes); at = tick; }
  track.push(...length(1920), 0xFF, 0x2F, 0);
  const header = Buffer.alloc(22), file = join(folder, "strums");
  header.write("MThd"); header.writeUInt32BE(6, 4); header.writeUInt16BE(1, 10); header.writeUInt16BE(480, 12); header.write("MTrk", 14); header.writeUInt32BE(track.length, 18);
  writeFileSync(`${file}.mid`, Buffer.concat([header, Buffer.from(track)]));
  execFileSync("fluidsynth", ["-ni", "-q", "-g", "0.5", "-r", String(RATE), "-F", `${file}.wav`, "/usr/share/sounds/sf2/FluidR3_GM.sf2", `${file}.mid`], { stdio: "ignore" });
  const samples = samplesOf(readFileSync(`${file}.wav`));
  if (noise > 0) {
    const loud = Math.sqrt(samples.reduce((sum, x) => sum + x * x, 0) / samples.length) * 10 ** (-noise / 20);
    for (let i = 0; i < samples.length; i++) samples[i] += loud * Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  }
  return samples;
}

const KINDS = { clean: () => ({}), "six muffled": () => ({ muffled: true }), "six damped": () => ({ damped: true }), "six with a silent string": (sounding, random) => ({ silent: sounding[1 + Math.floor(2 * random())] }) };
console.log(`| guitar | changes a minute | ${Object.keys(KINDS).join(" | ")} |\n|---|---|${Object.keys(KINDS).map(() => "---|").join("")}`);
for (const [guitar, program] of Object.entries(GUITARS)) for (const pace of PACES) {
  const cells = [];
  for (const [kind, odd] of Object.entries(KINDS)) {
    if (some && kind.includes("silent")) continue;
    const off = [];
    for (const [p, pair] of PAIRS.entries()) {
      if (some && p % 3) continue;
      const [from, to] = pair.split("-"), random = numbers(1000 * program + 10 * pace + p);
      const chosen = new Set();
      while (kind !== "clean" && chosen.size < ODD) chosen.add(2 + Math.floor((STRUMS - 2) * random()));
      let at = 1;
      const strums = Array.from({ length: STRUMS }, (_, i) => {
        const shape = pitches(i % 2 ? to : from), sounding = shape.flatMap((x, s) => x === null ? [] : [s]);
        const strum = { at, pitches: shape, ...(chosen.has(i) && odd(sounding, random)) };
        at += 60 / pace * (0.92 + 0.16 * random());
        return strum;
      });
      off.push(countIn(play(strums, program, random), RATE, pitches(from), pitches(to)) - (STRUMS - 1 - chosen.size));
    }
    const far = off.map(Math.abs);
    cells.push(`${far.filter(o => o <= 1).length} of ${far.length} within one, at most ${Math.max(...far)} off`);
  }
  console.log(`| ${guitar} | ${pace} | ${cells.join(" | ")} |`);
}
rmSync(folder, { recursive: true });
