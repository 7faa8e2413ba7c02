// Sends a recording to be listened to: decoded here, one channel of plain samples goes out, progress comes back line by line.
const RATE = 22050, LONGEST = 600;

// One channel at a rate that holds what is listened for, as a wave file of 16 bits.
async function samples(chosen) {
  const whole = await new OfflineAudioContext(1, 1, RATE).decodeAudioData(await chosen.arrayBuffer());
  if (whole.duration > LONGEST) throw new RangeError(`A recording is at most ${LONGEST / 60} minutes long; this one has ${Math.round(whole.duration / 6) / 10}. Cut out the song.`);
  const mono = new Float32Array(whole.length);
  for (let c = 0; c < whole.numberOfChannels; c++) {
    const channel = whole.getChannelData(c);
    for (let i = 0; i < mono.length; i++) mono[i] += channel[i] / whole.numberOfChannels;
  }
  const bytes = new DataView(new ArrayBuffer(44 + 2 * mono.length));
  const text = (at, word) => [...word].forEach((letter, i) => bytes.setUint8(at + i, letter.charCodeAt(0)));
  text(0, "RIFF"); bytes.setUint32(4, 36 + 2 * mono.length, true); text(8, "WAVEfmt ");
  bytes.setUint32(16, 16, true); bytes.setUint16(20, 1, true); bytes.setUint16(22, 1, true);
  bytes.setUint32(24, RATE, true); bytes.setUint32(28, 2 * RATE, true); bytes.setUint16(32, 2, true); bytes.setUint16(34, 16, true);
  text(36, "data"); bytes.setUint32(40, 2 * mono.length, true);
  for (let i = 0; i < mono.length; i++) bytes.setInt16(44 + 2 * i, Math.max(-1, Math.min(1, mono[i])) * 32767, true);
  return new Blob([bytes.buffer], { type: "audio/wav" });
}

// Answers the last line that came back; throws what to say to the teacher.
export async function listen(address, chosen, token, signal, progress) {
  const form = new FormData();
  let sound;
  try { sound = await samples(chosen); }
  catch (problem) { throw problem instanceof RangeError ? problem : new Error("This browser cannot open the file as sound. Is it a recording? Another format, such as wav or mp3, will do."); }
  form.append("audio", sound, "recording.wav");
  progress(0.05);
  try {
    const answer = await fetch(address, { method: "POST", body: form, signal, headers: { "X-Tembri-Token": token } });
    if (!answer.ok) throw new Error(answer.status === 404 ? "This song is not there any more." : answer.status === 409 ? "The chart has no chords yet. Write them down first, or draft a chart from the recording under Take down a song." : answer.status === 413 ? "This recording is too large. Cut out the song." : "The recording did not arrive. Load the page again, then try once more.");
    const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
    let rest = "", last = null;
    for (;;) {
      const { value, done } = await reader.read();
      if (done) break;
      const lines = (rest + value).split("\n");
      rest = lines.pop();
      for (const line of lines.filter(Boolean)) {
        last = JSON.parse(line);
        if (last.done) progress(0.1 + 0.9 * last.done);
        if (last.fault) throw new Error(last.fault);
      }
    }
    if (!last || last.done) throw new Error("Listening broke off. Try again; nothing was changed.");
    return last;
  } catch (problem) {
    throw problem instanceof TypeError ? new Error("The connection was lost. Try again; nothing was changed.") : problem;
  }
}
