// A student with 2,000 entries in a running Tembri with the demo studio: server time of the student's pages, and what the first load on a phone weighs.
// Usage: node bench/student-pages.mjs URL [NICKNAME]
import { performance } from 'node:perf_hooks';

const [url, nickname = 'Wren'] = process.argv.slice(2);
if (!url) { console.error('usage: node bench/student-pages.mjs URL'); process.exit(2); }
const cookies = new Map();
const ask = async (path, options = {}) => {
  const answer = await fetch(url + path, { redirect: 'manual', ...options, headers: { cookie: [...cookies].map(([k, v]) => `${k}=${v}`).join('; '), ...options.headers } });
  for (const set of answer.headers.getSetCookie()) { const [pair] = set.split(';'); const at = pair.indexOf('='); cookies.set(pair.slice(0, at), pair.slice(at + 1)); }
  return answer;
};
const page = async path => (await ask(path)).text();
const token = html => html.match(/name="__RequestVerificationToken"[^>]*value="([^"]+)"/)[1];
const post = async (path, handler, fields) => ask(`${path}?handler=${handler}`, { method: 'POST', body: new URLSearchParams({ ...fields, __RequestVerificationToken: token(await page(path)) }) });

await post('/account/sign-in', 'Demo', {});
const student = (await page('/')).match(new RegExp(`href="/students/([0-9a-f-]{36})" title="Open ${nickname}`))[1];
const link = new URL((await (await post(`/students/${student}/practice`, 'Link', { days: '90' })).text()).match(/readonly value="([^"]+)"/)[1]).pathname;

const shapes = [[-1, 3, 2, 0, 1, 0], [3, 2, 0, 0, 0, 3], [-1, 0, 2, 2, 1, 0], [0, 2, 2, 0, 0, 0], [-1, -1, 0, 2, 3, 2], [-1, -1, 3, 2, 1, 1], [1, 3, 3, 2, 1, 1], [-1, 2, 4, 4, 3, 2]];
let seed = 11;
const random = n => (seed = (seed * 1103515245 + 12345) % 2147483648) % n;
const entries = Array.from({ length: 2000 }, (_, i) => {
  const at = new Date(Date.now() - (2000 - i) * 25 * 60000).toISOString(), [from, to] = [shapes[random(8)], shapes[random(8)]];
  const key = crypto.randomUUID();
  return from === to || i % 3 === 1 ? { key, at, kind: 'shape', text: 'a shape', to: { frets: to }, tries: 10, count: random(11) } : i % 3 === 2 ? { key, at, kind: 'time', minutes: 12, felt: 2 } : { key, at, kind: 'changes', text: 'a change', from: { frets: from }, to: { frets: to }, count: 15 + random(30), seconds: 60 };
});
const started = performance.now();
const kept = await (await ask(`${link}/entries`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ sentAt: new Date().toISOString(), entries }) })).json();
console.log(`${kept.outcomes.filter(o => o.kept).length} entries handed in at once: ${Math.round(performance.now() - started)} ms`);

// One count after the other, as a phone hands them in: each later than all before.
const one = [];
for (let i = 0; i < 15; i++) {
  const at = new Date(Date.now() + i * 1000).toISOString();
  const entry = { key: crypto.randomUUID(), at, kind: 'changes', text: 'a change', from: { frets: shapes[0] }, to: { frets: shapes[1] }, count: 20 + i, seconds: 60 };
  const from = performance.now();
  const answer = await ask(`${link}/entries`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ sentAt: new Date().toISOString(), entries: [entry] }) });
  if (!(await answer.json()).outcomes[0].kept) throw new Error('not kept');
  one.push(performance.now() - from);
}
one.sort((a, b) => a - b);
console.log(`one entry handed in: median ${one[7].toFixed(0)} ms, most ${one[14].toFixed(0)}`);

for (const path of [link, `/students/${student}/practice`, `/students/${student}/log`, `/students/${student}`, `/today?handler=Row&id=${student}`]) {
  const times = [];
  for (let i = 0; i < 15; i++) {
    const from = performance.now();
    const answer = await ask(path);
    await answer.text();
    if (!answer.ok) throw new Error(`${path}: ${answer.status}`);
    times.push(performance.now() - from);
  }
  times.sort((a, b) => a - b);
  console.log(`${path.replace(student, '…').replace(link, '/my/…')}: median ${times[7].toFixed(0)} ms, most ${times[14].toFixed(0)}`);
}

// What a phone loads the first time, packed as it asks for it.
const bytes = async path => (await (await ask(path, { headers: { 'accept-encoding': 'identity' } })).arrayBuffer()).byteLength;
const { request } = await import(url.startsWith('https') ? 'node:https' : 'node:http');
const packed = path => new Promise((done, fail) => request(url + path, { headers: { 'accept-encoding': 'br' } }, answer => { let sum = 0; answer.on('data', d => { sum += d.length; }); answer.on('end', () => done(sum)); }).on('error', fail).end());
const html = await page(link);
const css = html.match(/href="(\/assets\/my\.[^"]+\.css)"/)[1];
const style = await page(css);
const parts = [link, css, html.match(/src="(\/assets\/my-page\.[^"]+\.js)"/)[1], html.match(/href="(\/assets\/mark\.[^"]+)"/)[1], ...[...style.matchAll(/\/assets\/fonts\/[a-z0-9.-]+\.woff2/g)].map(m => m[0])];
let sum = 0;
for (const part of [...new Set(parts)]) {
  const size = await packed(part);
  sum += size;
  console.log(`  ${part.replace(link, '/my/…')}: ${(size / 1000).toFixed(1)} kB (${((await bytes(part)) / 1000).toFixed(1)} unpacked)`);
}
console.log(`first load on a phone: ${(sum / 1000).toFixed(1)} kB`);
