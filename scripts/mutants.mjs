// Breaks one rule of Core (or of Formats) at a time and says which breaks its tests do not notice. It works on a clone, never on this folder.
// Usage: node scripts/mutants.mjs [--of Core] [--count 20] [--seed 1] [ROOM …]; a room within a room is Charts/Reading
import { execFileSync, spawnSync } from "node:child_process";
import { copyFileSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

const root = join(dirname(fileURLToPath(import.meta.url)), "..");
const words = process.argv.slice(2);
const option = (name, usual) => {
  const at = words.indexOf(`--${name}`);
  return at < 0 ? usual : words.splice(at, 2)[1];
};
const part = option("of", "Core");
const count = Number(option("count", 20));
let state = Number(option("seed", 1)) * 2654435761 % 4294967296 || 1;
const usualRooms = { Core: ["Arranging", "Changes", "Shapes", "Ladders", "Students", "Substitutions"], Formats: ["Scores", "Midi", "Sounding", "."] };
const rooms = words.length > 0 ? words : usualRooms[part];

// Mulberry32: the same seed breaks the same rules.
const chance = () => {
  state = (state + 0x6D2B79F5) | 0;
  let t = Math.imul(state ^ (state >>> 15), 1 | state);
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
};

const swaps = [
  [/ < /g, " <= "], [/ <= /g, " < "], [/ > /g, " >= "], [/ >= /g, " > "], [/ == /g, " != "], [/ != /g, " == "], [/ \+ /g, " - "], [/ - /g, " + "], [/ \* /g, " / "],
  [/ && /g, " || "], [/ \|\| /g, " && "], [/Math\.Max\(/g, "Math.Min("], [/Math\.Min\(/g, "Math.Max("], [/\btrue\b/g, "false"], [/\bfalse\b/g, "true"], [/\.OrderBy\(/g, ".OrderByDescending("],
  [/\.First\(/g, ".Last("], [/\.Any\(/g, ".All("], [/\.All\(/g, ".Any("],
];

/** Every place in a file where a rule can be broken: what would stand there instead. Comments, attributes, thrown messages and checks of arguments are left alone. */
function places(text, isData) {
  const found = [];
  let at = 0;
  for (const line of text.split("\n")) {
    const code = line.trimStart();
    if (!code.startsWith("//") && !code.startsWith("[") && !code.includes("throw ") && !code.includes("ThrowIf")) {
      const rules = isData ? [[/-?\d+(\.\d+)?(?=[,\]\s}])/g, m => String(Math.round(Number(m) * 1.3 * 1000 + 100) / 1000)]] : swaps;
      for (const [rule, instead] of rules)
        for (const m of line.matchAll(rule)) {
          // Inside a text or behind a remark nothing is a rule.
          const before = line.slice(0, m.index);
          if ((before.match(/"/g) ?? []).length % 2 === 1 || before.includes("// ")) continue;
          found.push({ at: at + m.index, length: m[0].length, instead: typeof instead === "function" ? instead(m[0]) : instead, line: line.trim().slice(0, 110) });
        }
    }
    at += line.length + 1;
  }
  return found;
}

/** Numbers that were learnt from data are no rules: bench/ holds them against the data. */
const isLearnt = file => file === "finger-habits.data.json";

const folder = mkdtempSync(join(tmpdir(), "tembri-mutants-"));
// One compiler for all breaks, warm after the first. It ends with this script.
const compiler = `tembri-mutants-${process.pid}`;
process.on("exit", () => {
  rmSync(folder, { recursive: true, force: true });
  spawnSync("pkill", ["-TERM", "-f", `VBCSCompiler.*-pipename:${compiler}$`]);
});
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => process.exit(1));
execFileSync("git", ["clone", "-q", root, folder]);
const project = join(folder, `tests/Tembri.${part}.Tests`);
const ran = (...command) => spawnSync("dotnet", command, { encoding: "utf8" }).status === 0;
const code = join(folder, `src/Tembri.${part}`);
/** That part alone is made anew and laid beside the tests: what it offers does not change with a rule. */
const build = () => {
  if (!ran("build", "-c", "Release", "-v", "q", "--nologo", "--no-restore", "-p:RunAnalyzers=false", "-p:GenerateDocumentationFile=false", "-p:UseSharedCompilation=true", `-p:SharedCompilationId=${compiler}`, code)) return false;
  copyFileSync(join(code, `bin/Release/net10.0/Tembri.${part}.dll`), join(project, `bin/Release/net10.0/Tembri.${part}.dll`));
  return true;
};
/** Runs the tests until the first that fails: those of a room alone, or all of them. A room without tests of its own passes. */
const test = room => {
  const run = spawnSync("dotnet", [join(project, `bin/Release/net10.0/Tembri.${part}.Tests.dll`), "-stopOnFail", ...room ? ["-namespace", `Tembri.${part}.Tests.${room.split("/")[0]}`] : []], { encoding: "utf8", timeout: 600_000 });
  // Ended from outside it noticed nothing, and nobody wants the next one.
  if (run.signal && run.error?.code !== "ETIMEDOUT") process.exit(1);
  return run.status === 0;
};
if (!ran("build", "-c", "Release", "-v", "q", "--nologo", project) || !build() || !test()) throw new Error("The tests do not pass before anything is broken.");

const all = rooms.flatMap(room => readdirSync(join(code, room)).filter(f => /\.(cs|data\.json)$/.test(f) && !isLearnt(f)).flatMap(f => {
  const file = join(code, room, f);
  return places(readFileSync(file, "utf8"), f.endsWith(".json")).map(p => ({ ...p, file, room, name: `${room}/${f}` }));
}));
console.log(`${all.length} places in ${rooms.join(", ")}; ${count} of them broken one at a time.`);
let [killed, survived] = [0, 0];
while (killed + survived < count) {
  // Who wants it to end is heard here.
  await new Promise(resolve => setImmediate(resolve));
  const place = all.splice(Math.floor(chance() * all.length), 1)[0];
  if (!place) break;
  const text = readFileSync(place.file, "utf8");
  writeFileSync(place.file, text.slice(0, place.at) + place.instead + text.slice(place.at + place.length));
  // What does not compile is no rule that could be broken.
  if (build()) {
    // Most breaks change a result that is written down, or fail in their own room, in seconds.
    const noticed = (part === "Core" ? ["Results", place.room] : ["Scores"]).some(r => !test(r)) || !test();
    if (noticed) killed++;
    else survived++;
    console.log(`${noticed ? "noticed " : "SURVIVED"}  ${place.name}: ${text.slice(place.at, place.at + place.length).trim()} → ${place.instead.trim()}   ${place.line}`);
  }
  writeFileSync(place.file, text);
}
console.log(`${survived} of ${killed + survived} were not noticed.`);
