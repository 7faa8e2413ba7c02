// For the tests and the bench only: counts the clean changes in a WAV file of 16 bits and two channels, as a phone would.
import { ChangeCounter, StrumEar } from "./strum-ear.js";

const PIECE = 1024;

export function samplesOf(bytes) {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 12;
  while (view.getUint32(at) !== 0x64617461) at += 8 + view.getUint32(at + 4, true);
  const frames = Math.min(view.getUint32(at + 4, true), bytes.byteLength - at - 8) >> 2;
  return Float32Array.from({ length: frames }, (_, i) => (view.getInt16(at + 8 + 4 * i, true) + view.getInt16(at + 10 + 4 * i, true)) / 65536);
}

export function countIn(samples, rate, from, to) {
  const counter = new ChangeCounter();
  let count = 0;
  const ear = new StrumEar(rate, [from, to], strum => { if (counter.take(strum)) count++; });
  for (let i = 0; i < samples.length; i += PIECE) ear.feed(samples.subarray(i, i + PIECE));
  ear.end();
  return count;
}

export const count = async (file, from, to) => countIn(samplesOf(new Uint8Array(await file.arrayBuffer())), 48000, from, to);
