// Lists packages and licences from the lock files and the packages themselves; see scripts/dependencies.
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { homedir } from "node:os";

const page = "docs/dependencies.md";
const store = process.env.NUGET_PACKAGES ?? `${homedir()}/.nuget/packages`;
// Licences that may be shipped with a program of another licence; others need a look.
const fine = new Set(["MIT", "Apache-2.0", "BSD-2-Clause", "BSD-3-Clause", "ISC", "0BSD", "PostgreSQL", "OFL-1.1", "LGPL-3.0-or-later", "LGPL-3.0-only", "CC0-1.0", "Unlicense", "BlueOak-1.0.0", "MPL-2.0", "Python-2.0", "CC-BY-4.0", "Zlib", "BSD-0-Clause", "LicenseRef-NET-Library"]);
// Packages that name their licence by a file or an address: read, and written down here.
const read = JSON.parse(readFileSync("scripts/licences-read.json", "utf8"));

const mayShip = licence => licence.replace(/[()]/g, "").split(" OR ").some(way => way.split(" AND ").every(l => fine.has(l)));
const licenceOf = (id, version) => {
  const file = `${store}/${id.toLowerCase()}/${version.toLowerCase()}/${id.toLowerCase()}.nuspec`;
  const known = read[id];
  if (!existsSync(file)) return known ?? "not restored here";
  const text = readFileSync(file, "utf8");
  return text.match(/<license type="expression">([^<]+)</)?.[1] ?? known ?? `see ${text.match(/<licenseUrl>([^<]+)</)?.[1] ?? "its files"}`;
};
const nuget = project => {
  const lock = JSON.parse(readFileSync(`${project}/packages.lock.json`, "utf8"));
  const found = new Map();
  for (const part of Object.values(lock.dependencies)) for (const [id, at] of Object.entries(part)) if (at.type !== "Project") found.set(id, { version: at.resolved, direct: found.get(id)?.direct || at.type === "Direct" });
  return found;
};
const shipped = nuget("src/Tembri.Web");
for (const project of ["src/Tembri.Core", "src/Tembri.Formats", "src/Tembri.Data"]) for (const [id, at] of nuget(project)) shipped.set(id, { ...at, direct: shipped.get(id)?.direct || at.direct });
const tests = new Map();
for (const project of ["tests/Tembri.Core.Tests", "tests/Tembri.Formats.Tests", "tests/Tembri.Web.Tests", "tests/Tembri.Browser.Tests", "tests/Tembri.Fault.Tests", "bench/Tembri.Bench"]) for (const [id, at] of nuget(project)) if (!shipped.has(id)) tests.set(id, at);
const npm = Object.entries(JSON.parse(readFileSync("package-lock.json", "utf8")).packages).filter(([path]) => path).map(([path, at]) => ({ id: path.replace(/^.*node_modules\//, ""), version: at.version, licence: at.license ?? read[path.replace(/^.*node_modules\//, "")] ?? "see its files", tool: !!at.dev }));
const bad = [];
const rows = (found, where) => [...found].sort(([a], [b]) => a.localeCompare(b)).map(([id, at]) => {
  const licence = licenceOf(id, at.version);
  if (!mayShip(licence)) bad.push(`${where} ${id} ${at.version}: ${licence}`);
  return `| ${id} | ${at.version} | ${licence} | ${at.direct ? "chosen" : "comes along"} |`;
});
const npmRows = tool => [...new Map(npm.filter(p => p.tool === tool).map(p => [`${p.id} ${p.version}`, p])).values()].sort((a, b) => a.id.localeCompare(b.id)).map(p => {
  if (!mayShip(p.licence)) bad.push(`npm ${p.id} ${p.version}: ${p.licence}`);
  return `| ${p.id} | ${p.version} | ${p.licence} |`;
});
const text = `# What Tembri is made of

Written by \`scripts/dependencies\` from the lock files; \`scripts/dependencies --check\` says when it is old or a licence is none that may be shipped, \`--faults\` asks the feeds for known faults.

## Shipped with the program

| package | version | licence | |
|---|---|---|---|
${rows(shipped, "shipped").join("\n")}

In the pages' scripts and styles, or used to build them:

| package | version | licence |
|---|---|---|
${npmRows(false).join("\n")}

Fonts lie beside their licence (OFL) in \`src/Tembri.Web/Assets\`.

## For tests and measurements only

| package | version | licence | |
|---|---|---|---|
${rows(tests, "test").join("\n")}

| package | version | licence |
|---|---|---|
${npmRows(true).join("\n")}

## Debian's packages

| for | packages |
|---|---|
| \`./start\` | postgresql |
| \`./test\` | poppler-utils, fluidsynth, fluid-soundfont-gm, chromium, chromium-headless-shell, chromium-driver |
| \`scripts/fleet\` | haproxy, pgbouncer, patroni, python3-idna, etcd-server, etcd-client, pgbackrest, prometheus, openssl, curl |
`;
if (process.argv[2] === "write") writeFileSync(page, text);
else if (!existsSync(page) || readFileSync(page, "utf8") !== text) { console.error(`${page} is old: run scripts/dependencies`); process.exitCode = 1; }
if (bad.length) { console.error("Licences to look at:\n" + bad.join("\n")); process.exitCode = 1; }
else if (!process.exitCode) console.log(`${shipped.size} packages shipped, ${tests.size} for tests, ${npm.length} of npm; every licence may be shipped.`);
