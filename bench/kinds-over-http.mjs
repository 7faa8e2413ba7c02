// Sixteen kinds of player over fifty songs through /api/v1/ladder of a running Tembri, twice: how long a ladder takes and how much memory the process holds.
// Usage: node bench/kinds-over-http.mjs URL PID
import { readFileSync } from 'node:fs';

const [url, pid] = process.argv.slice(2);
if (!url || !pid) { console.error('usage: node bench/kinds-over-http.mjs URL PID'); process.exit(2); }

// Made-up progressions: seven chords of a key and a few from outside, in all twelve keys.
let seed = 7;
const random = () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648;
const names = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];
const degrees = [[0, ''], [2, 'm'], [4, 'm'], [5, ''], [7, ''], [9, 'm'], [7, '7'], [2, 'm7'], [5, 'maj7'], [0, '/2'], [10, ''], [4, '7'], [9, 'm7'], [2, '7']];
const chart = i => {
  const key = (i * 5) % 12;
  const chord = () => {
    const [up, kind] = degrees[Math.floor(random() * degrees.length)];
    const root = names[(key + up) % 12];
    return kind === '/2' ? `${root}/${names[(key + 4) % 12]}` : root + kind;
  };
  const line = () => `| ${[names[key], chord(), chord(), chord(), chord(), chord(), chord(), names[key]].join(' | ')} |`;
  return `key: ${names[key]}\ntempo: ${70 + i}\n[Verse]\n${line()}\n[Chorus]\n${line()}\n`;
};
const charts = Array.from({ length: 50 }, (_, i) => chart(i));
const kinds = ['medium', 'small', 'child', 'large'].flatMap(hand => ['steel', 'classical'].flatMap(guitar => [30, 60].map(changes => ({ hand, guitar, thumb: false, barres: 'neutral', skills: { changes } }))));
const memory = () => Object.fromEntries([...readFileSync(`/proc/${pid}/status`, 'utf8').matchAll(/(VmHWM|VmRSS):\s+(\d+) kB/g)].map(([, k, v]) => [k, Math.round(v / 1000)]));
const middle = times => times.sort((a, b) => a - b)[Math.floor(times.length / 2)];

console.log(`before: ${memory().VmRSS} MB`);
for (const round of ['first', 'again']) {
  const times = [];
  for (const student of kinds)
    for (const text of charts) {
      const start = performance.now();
      const answer = await fetch(`${url}/api/v1/ladder`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ chart: text, student }) });
      if (!answer.ok) throw new Error(`${answer.status}: ${await answer.text()}`);
      await answer.arrayBuffer();
      times.push(performance.now() - start);
    }
  const { VmRSS, VmHWM } = memory();
  const median = middle(times);
  console.log(`${round}: median ${median.toFixed(1)} ms, 95 % under ${times[Math.floor(times.length * 0.95)].toFixed(0)}, most ${times.at(-1).toFixed(0)}; ${VmRSS} MB now, ${VmHWM} MB at most`);
}
