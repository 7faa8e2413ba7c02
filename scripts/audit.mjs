// Looks every page over in a running Tembri with the demo studio, at three widths: what runs out of view, small letters, small targets, heads that wrap, jumps of the layout, and axe with best practices.
// Usage: node scripts/audit.mjs [PART OF A PAGE'S NAME …]; ends with 1 when something was found.
import { readFileSync } from "node:fs";
import { browser } from "./browser.mjs";

const base = process.env.TEMBRI_ADDRESS ?? "http://127.0.0.1:5210";
const wanted = process.argv.slice(2);
const axe = readFileSync(new URL("../node_modules/axe-core/axe.min.js", import.meta.url), "utf8");
const { run, runAsync, go, settle, click, size, end } = await browser(base);
const widths = [[1280, 800], [820, 1180], [390, 844]];

/** Runs in the page. */
const look = `
  const found = [];
  const visible = e => e.checkVisibility({ opacityProperty: true, visibilityProperty: true }) && e.getClientRects().length > 0;
  const say = e => e.tagName.toLowerCase() + (e.id ? "#" + e.id : "") + (typeof e.className === "string" && e.className ? "." + e.className.trim().split(/\\s+/).join(".") : "") + " “" + (e.getAttribute("aria-label") ?? e.textContent).trim().slice(0, 30) + "”";
  const wide = document.documentElement.scrollWidth - document.documentElement.clientWidth;
  if (wide > 1) {
    const out = [...document.body.querySelectorAll("*")].filter(e => visible(e) && e.getBoundingClientRect().right > document.documentElement.clientWidth + 1 && ![...e.children].some(c => c.getBoundingClientRect().right >= e.getBoundingClientRect().right));
    found.push("runs " + wide + " px out of view: " + out.slice(0, 3).map(say).join(", "));
  }
  const small = new Map();
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let n = walker.nextNode(); n; n = walker.nextNode()) {
    const e = n.parentElement;
    if (!n.data.trim() || !e || ["SCRIPT", "STYLE", "NOSCRIPT", "TITLE", "DESC"].includes(e.tagName) || !visible(e) || e.closest(".sr-only, .visually-hidden")) continue;
    let px = parseFloat(getComputedStyle(e).fontSize);
    const svg = e.ownerSVGElement;
    if (svg) { const box = svg.getBoundingClientRect(), view = svg.viewBox.baseVal; if (view && view.width) px *= Math.min(box.width / view.width, box.height / view.height); }
    if (px < 11.95) small.set(say(e).replace(/“.*/, ""), [px.toFixed(1), n.data.trim().slice(0, 20)]);
  }
  for (const [e, [px, text]] of [...small].slice(0, 4)) found.push("small letters, " + px + " px: " + e + "“" + text + "”");
  const targets = [...document.querySelectorAll("a[href], button, input:not([type=hidden]), select, textarea, summary, [role=button], [tabindex='0']")].filter(visible);
  const tiny = targets.filter(e => {
    const r = e.getBoundingClientRect();
    if (e.matches("input[type=radio], input[type=checkbox]") && e.closest("label")) { const l = e.closest("label").getBoundingClientRect(); return l.height < 24 || l.width < 24; }
    const inline = getComputedStyle(e).display === "inline" && e.closest("p, li, td, dd, small, figcaption");
    return !inline && r.width > 0 && (r.width < 23.5 || r.height < 23.5);
  });
  for (const e of tiny.slice(0, 4)) { const r = e.getBoundingClientRect(); found.push("small target, " + Math.round(r.width) + " × " + Math.round(r.height) + ": " + say(e)); }
  const head = document.querySelector(".masthead-song");
  if (head && innerWidth >= 1280 && head.getBoundingClientRect().height > 80) found.push("the head takes " + Math.round(head.getBoundingClientRect().height) + " px");
  const jump = performance.getEntriesByType("layout-shift").filter(s => !s.hadRecentInput).reduce((a, s) => a + s.value, 0);
  if (jump > 0.02) found.push("the layout jumps: " + jump.toFixed(3));
  return found;`;
const axeIn = `
  const done = arguments[arguments.length - 1];
  axe.run(document, { runOnly: ["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa", "best-practice"] })
    .then(r => done(r.violations.map(v => "axe " + v.id + " (" + v.impact + ") × " + v.nodes.length + ": " + v.nodes[0].html.slice(0, 140)))).catch(e => done(["axe " + e]));`;

await go("/account/sign-in"); await settle(); await click("form[action*='Demo'] button"); await settle();
await go("/songs"); await settle();
const student = (await run("return [...document.querySelectorAll('.desk thead a')].find(a => a.textContent.trim() === 'Wren').getAttribute('href')")).split("/")[2];
const song = async title => (await run("return [...document.querySelectorAll('.desk .song')].find(a => a.textContent.trim() === arguments[0]).getAttribute('href')", title)).split("/")[2];
const [salt, cellar, waltz] = [await song("Salt on the Sill"), await song("Down the Cellar Stair"), await song("Clockmaker's Waltz")];
const open = (selector, shown) => async () => { await click(selector); await settle(`document.querySelector(${JSON.stringify(shown)})`); };
const everybody = await run("return [...document.querySelectorAll('.desk thead a')].map(a => a.getAttribute('href').split('/')[2])");
const thursday = new Date();
thursday.setDate(thursday.getDate() + (4 - thursday.getDay() + 7) % 7);
const pages = {
  songs: ["/songs"], "songs found": ["/songs?q=F&tag=campfire"], students: ["/students"], lessons: ["/lessons"], "one lesson": [await run("return fetch('/lessons').then(r => r.text()).then(t => t.match(/\\/lessons\\?lesson=[0-9a-f-]{36}/)[0])")], sets: ["/sets"],
  set: [await run("return fetch('/sets').then(r => r.text()).then(t => t.match(/\\/sets\\/[0-9a-f-]{36}/)[0])")], "a class": [`/songs/${salt}/class?${everybody.slice(0, 3).map(w => `with=${w}`).join("&")}`], "class asked": [`/songs/${salt}/class`],
  road: [`/students/${student}/road`], "road there": [`/students/${student}/road?song=${waltz}&rung=5`], "sheets of the week": ["/sheets"], data: ["/studio/data"], guide: ["/guide"], ladder: [`/songs/${salt}/ladder/${student}`], "ladder long": [`/songs/${cellar}/ladder/${student}`],
  swap: [`/songs/${salt}/ladder/${student}`, open("[data-cell='2-1']", ".options")], why: [`/songs/${salt}/ladder/${student}`, open("tr.working [data-why]", "#bench .parts")],
  drawing: [`/songs/${salt}/ladder/${student}?rung=3&chord=1&draw=now`], changes: [`/songs/${salt}/changes/${student}?rung=3`], "changes long": [`/songs/${cellar}/changes/${student}?rung=4`],
  change: [`/songs/${salt}/changes/${student}?rung=3`, async () => { await run("document.querySelector('.change-map a').dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true }))"); await settle("document.querySelector('#change .quicker, #change p b')"); }],
  "right hand": [`/songs/${salt}/right-hand/${student}?section=1`], figures: [`/songs/${cellar}/figures/${student}?section=2`],
  stage: [`/songs/${salt}/stage/${student}?rung=3`], compare: [`/songs/${salt}/ladder/${student}/compare?left=2&right=5`], hand: [`/songs/${salt}/ladder/${student}/hand?from=2`],
  today: ["/"], thursday: [`/?day=${thursday.toISOString().slice(0, 10)}`], practice: [`/students/${student}/practice`], log: [`/students/${student}/log`], meeting: [`/students/${student}/meeting`], records: [`/students/${student}/records`], guitars: ["/studio/guitars"],
  rungs: [`/songs/${salt}/ladder/${student}/rungs`], steps: [`/songs/${salt}/ladder/${student}/steps`], grips: ["/studio/grips?chord=G"], "studio's rungs": ["/studio/rungs"],
  find: [`/songs/${salt}/ladder/${student}`, async () => { await run("document.dispatchEvent(new KeyboardEvent('keydown', { key: '/', bubbles: true }))"); await run("document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '/', bubbles: true, cancelable: true }))"); await settle("document.querySelector('.find')"); }],
  "voice in fields": [`/songs/${salt}/ladder/${student}`, open("[data-aim]", "details.panel[open]")],
  chart: [`/songs/${salt}/chart`], "chart bar": [`/songs/${salt}/chart`, open("[data-bar='0-1']", ".cell-editor")], places: [`/songs/${salt}/places/${student}`],
  listen: [`/songs/${cellar}/listen/${student}`], sheet: [`/songs/${waltz}/sheet/${student}?rung=3`], "sheet with picks": [`/songs/${cellar}/sheet/${student}?rung=3`], files: [`/songs/${salt}/files`], history: [`/songs/${salt}/history`], remove: [`/songs/${salt}/remove`],
  record: [`/songs/${salt}/record`], draft: ["/songs/new", open("[data-draft] summary", "[data-draft][open]")], new: ["/songs/new"], bring: ["/songs/bring"], student: [`/students/${student}`], "new student": ["/students/new"], studio: ["/studio"], account: ["/account"],
};
let faults = 0;
for (const [name, [path, act]] of Object.entries(pages)) {
  if (wanted.length > 0 && !wanted.some(w => name.includes(w))) continue;
  for (const [width, height] of widths) {
    await size(width, height);
    const found = [];
    try {
      await go(path); await settle(); if (act) await act();
      await new Promise(r => setTimeout(r, 300));
      found.push(...await run(look));
      await run(axe);
      found.push(...await runAsync(axeIn));
    } catch (e) { found.push(`cannot be looked at: ${e.message.slice(0, 200)}`); }
    faults += found.length;
    if (found.length > 0) console.log(`${name} ${width} × ${height}\n  ${found.join("\n  ")}`);
  }
}
console.log(faults === 0 ? "nothing found" : `${faults} found`);
await end();
process.exit(faults === 0 ? 0 : 1);
