// Builds what the browser gets: styles, scripts and fonts, from Assets/ and npm packages into wwwroot/assets/. Nothing is fetched at run time.
import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import { copyFileSync, existsSync, mkdirSync, readFileSync, readdirSync, writeFileSync, rmSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { brotliCompressSync, gzipSync } from "node:zlib";
import * as esbuild from "esbuild";
import subsetFont from "subset-font";

const root = join(dirname(fileURLToPath(import.meta.url)), "..");
const from = join(root, "src/Tembri.Web/Assets");
const to = join(root, "src/Tembri.Web/wwwroot/assets");
const modules = join(root, "node_modules");

rmSync(to, { recursive: true, force: true });
mkdirSync(join(to, "fonts"), { recursive: true });

const fonts = {
  "alegreya.woff2": "@fontsource-variable/alegreya/files/alegreya-latin-wght-normal.woff2",
  "alegreya-italic.woff2": "@fontsource-variable/alegreya/files/alegreya-latin-wght-italic.woff2",
  "alegreya-sans-400.woff2": "@fontsource/alegreya-sans/files/alegreya-sans-latin-400-normal.woff2",
  "alegreya-sans-500.woff2": "@fontsource/alegreya-sans/files/alegreya-sans-latin-500-normal.woff2",
  "alegreya-sans-700.woff2": "@fontsource/alegreya-sans/files/alegreya-sans-latin-700-normal.woff2",
};
for (const [name, source] of Object.entries(fonts)) copyFileSync(join(modules, source), join(to, "fonts", name));

// The text fonts lack the musical signs; a small subset of a font that has them fills the gap.
const signs = "♭♮♯Δ°øØ→≤≥×−✓○′½";
const full = readFileSync(join(modules, "@fontsource/dejavu-sans/files/dejavu-sans-latin-400-normal.woff2"));
writeFileSync(join(to, "fonts/signs.woff2"), await subsetFont(full, signs, { targetFormat: "woff2" }));

// Paper needs fonts it can embed whole: the same faces unpacked, and behind them letters and signs they lack.
const everything = String.fromCodePoint(...Array.from({ length: 0x2212 - 0x20 }, (_, i) => i + 0x20)) + signs;
const paper = {
  "paper-serif": ["@fontsource-variable/alegreya/files/alegreya-latin-wght-normal.woff2", { wght: 500 }],
  "paper-italic": ["@fontsource-variable/alegreya/files/alegreya-latin-wght-italic.woff2", { wght: 400 }],
  "paper-sans": ["@fontsource/alegreya-sans/files/alegreya-sans-latin-400-normal.woff2"],
  "paper-bold": ["@fontsource/alegreya-sans/files/alegreya-sans-latin-700-normal.woff2"],
  "paper-signs": ["@fontsource/dejavu-sans/files/dejavu-sans-latin-400-normal.woff2"],
};
for (const [name, [source, axes]] of Object.entries(paper)) {
  writeFileSync(join(to, "fonts", `${name}.ttf`), await subsetFont(readFileSync(join(modules, source)), everything, { targetFormat: "truetype", ...(axes && { variationAxes: axes }) }));
}

const tailwind = join(modules, ".bin/tailwindcss");
for (const style of ["app", "my", "sheet-a4", "sheet-a4-wide", "sheet-letter", "no-script"]) {
  if (!existsSync(join(from, `${style}.css`))) continue;
  execFileSync(tailwind, ["-i", join(from, `${style}.css`), "-o", join(to, `${style}.css`), "--minify"], { stdio: ["ignore", "ignore", "inherit"], cwd: root });
}

for (const script of readdirSync(from).filter(f => f.endsWith("-page.js")).map(f => f.slice(0, -3))) await esbuild.build({ entryPoints: [join(from, `${script}.js`)], outfile: join(to, `${script}.js`), bundle: true, minify: true, format: "iife", target: "es2022" });
// What keeps a student's page while there is no network, and what takes the microphone's samples.
for (const script of ["my-worker", "my-mic-worklet"]) await esbuild.build({ entryPoints: [join(from, `${script}.js`)], outfile: join(to, `${script}.js`), bundle: true, minify: true, format: "iife", target: "es2022" });
// What the browser tests measure sound with; pages never load it.
for (const [script, probe, name] of [["player", "player-probe", "playerProbe"], ["strum-probe", "strum-probe", "strumProbe"]])
  await esbuild.build({ entryPoints: [join(from, `${script}.js`)], outfile: join(root, `tests/Tembri.Browser.Tests/obj/${probe}.js`), bundle: true, format: "iife", globalName: name, target: "es2022" });
copyFileSync(join(from, "mark.svg"), join(to, "mark.svg"));
copyFileSync(join(modules, "htmx.org/dist/htmx.min.js"), join(to, "htmx.js"));
copyFileSync(join(modules, "@alpinejs/csp/dist/cdn.min.js"), join(to, "alpine.js"));
// Every asset gets a fingerprint of its content into its name, the fonts first, since styles name them; and a packed copy for browsers that unpack.
const names = {};
const fingerprint = (name, content) => {
  const dot = name.lastIndexOf(".");
  const named = `${name.slice(0, dot)}.${createHash("sha256").update(content).digest("hex").slice(0, 10)}${name.slice(dot)}`;
  names[name] = named;
  writeFileSync(join(to, named), content);
  rmSync(join(to, name));
  if (!/\.(woff2|ttf)$/.test(name)) {
    writeFileSync(join(to, `${named}.br`), brotliCompressSync(content));
    writeFileSync(join(to, `${named}.gz`), gzipSync(content, { level: 9 }));
  }
};
for (const font of readdirSync(join(to, "fonts"))) fingerprint(`fonts/${font}`, readFileSync(join(to, "fonts", font)));
for (const file of readdirSync(to).filter(f => /\.(css|js|svg)$/.test(f))) {
  const content = readFileSync(join(to, file), "utf8").replace(/\/assets\/(fonts\/[a-z0-9-]+\.woff2)/g, (all, font) => names[font] ? `/assets/${names[font]}` : all);
  fingerprint(file, Buffer.from(content));
}
writeFileSync(join(to, "names.json"), JSON.stringify(names, null, 1));
console.log("assets built");
