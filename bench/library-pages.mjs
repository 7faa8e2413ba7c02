// Fills a studio of its own through the API and times its pages: node bench/library-pages.mjs URL [SONGS] [STUDENTS]
const [base, songs = "2000", students = "500"] = process.argv.slice(2);
const jar = new Map();
const keep = answer => { for (const cookie of answer.headers.getSetCookie()) { const [pair] = cookie.split(";"); const at = pair.indexOf("="); jar.set(pair.slice(0, at), pair.slice(at + 1)); } return answer; };
const get = async (path, redirect = "manual") => keep(await fetch(base + path, { redirect, headers: { cookie: [...jar].map(([k, v]) => `${k}=${v}`).join("; ") } }));
const post = async (page, path, fields) => {
  const token = (await (await get(page)).text()).match(/__RequestVerificationToken" type="hidden" value="([^"]+)"/)[1];
  return keep(await fetch(base + path, { method: "POST", redirect: "manual", body: new URLSearchParams([...fields, ["__RequestVerificationToken", token]]), headers: { cookie: [...jar].map(([k, v]) => `${k}=${v}`).join("; ") } }));
};
await post("/account/open", "/account/open", [["StudioName", "A large one"], ["Email", `${crypto.randomUUID()}@studio.example`], ["Password", "quiet-blue-door"]]);
const key = (await (await post("/studio/data", "/studio/data?handler=Key", [["name", "bench"]])).text()).match(/value="(tembri_[^"]+)"/)[1];
const call = async (path, body) => { const answer = await fetch(`${base}/api/v1/${path}`, { method: "POST", headers: { authorization: `Bearer ${key}`, "content-type": "application/json" }, body: JSON.stringify(body) }); if (!answer.ok) throw new Error(`${path}: ${answer.status} ${await answer.text()}`); return answer.json(); };
// A made-up library: the same seed gives the same one.
let seed = 7;
const pick = list => { seed = (seed * 1103515245 + 12345) & 0x7fffffff; return list[seed % list.length]; };
const NOUNS = ["lantern", "ferry", "orchard", "thimble", "harbour", "kettle", "meadow", "copper", "willow", "cellar", "ribbon", "gravel"];
const VERBS = ["drifts", "turns", "waits", "falls", "sings", "leans"];
const CHORDS = ["C", "Dm", "Em", "F", "G", "Am", "G7", "Bm7b5", "D", "A7"];
for (let i = 0; i < Number(songs); i++) {
  const line = () => `| ${[1, 2, 3, 4].map(() => `[${pick(CHORDS)}]the ${pick(NOUNS)} ${pick(VERBS)}`).join(" | ")} |`;
  await call("songs", { chart: `title: The ${pick(NOUNS)} and the ${pick(NOUNS)} ${i}\nkey: C\ntempo: ${60 + i % 80}\ntags: ${pick(["campfire", "concert", "first"])}\n\n[Verse]\n${line()}\n${line()}\n\n[Chorus]\n${line()}\n` });
}
for (let i = 0; i < Number(students); i++) await call("students", { nickname: `Pupil ${i}`, player: { skills: { fingers: 20 + i % 60, changes: 20 + i % 50 } } });
const pages = ["/", "/songs", "/songs?q=lantern", "/songs?q=Bm7b5+harbour", "/songs?q=in+C+96", "/songs?q=latern", "/songs?tag=concert&sort=Tempo", "/songs?songs=30", "/students", "/students?q=pupil+4", "/students?sort=Lesson", "/lessons", "/sets"];
for (const page of pages) {
  const times = [];
  for (let round = 0; round < 15; round++) { const from = performance.now(); const answer = await get(page); await answer.text(); if (answer.status !== 200) throw new Error(`${page}: ${answer.status}`); times.push(performance.now() - from); }
  times.sort((a, b) => a - b);
  console.log(`${page.padEnd(32)} median ${times[7].toFixed(0)} ms, greatest ${times[14].toFixed(0)} ms`);
}
