// The page of a recording: the browser decodes it, one channel of samples is sent, and its places are played from the file itself, slower at the same pitch.
import "./hear.js";

const RATE = 22050, LONGEST = 600;
const page = document.querySelector("[data-record]");
const file = page.querySelector("[data-file]"), start = page.querySelector("[data-start]"), stop = page.querySelector("[data-stop]");
const progress = page.querySelector("[data-progress]"), fault = page.querySelector("[data-fault]");
const audio = new Audio();
let leaving = null, until = 0;

audio.preservesPitch = true;

function say(text) {
  fault.textContent = text;
  fault.hidden = !text;
}

file?.addEventListener("change", () => {
  say("");
  if (audio.src) URL.revokeObjectURL(audio.src);
  const chosen = file.files[0];
  start.disabled = !chosen;
  if (chosen) audio.src = URL.createObjectURL(chosen);
  for (const button of page.querySelectorAll("[data-from]")) button.disabled = !chosen;
  const hint = page.querySelector("[data-needs-file]");
  if (hint) hint.hidden = !!chosen;
});

page.addEventListener("click", event => {
  const button = event.target.closest("[data-from]");
  if (!button || button.disabled) return;
  const pressed = button.getAttribute("aria-pressed") === "true";
  quiet();
  if (pressed) return;
  audio.currentTime = Number(button.dataset.from);
  audio.playbackRate = Number(page.querySelector("[data-speed]")?.value || 1);
  until = Number(button.dataset.to);
  button.setAttribute("aria-pressed", "true");
  audio.play().catch(() => say("This browser does not play the file. Another format, such as wav, will do."));
});
audio.addEventListener("timeupdate", () => { if (audio.currentTime >= until) quiet(); });
audio.addEventListener("ended", quiet);

function quiet() {
  audio.pause();
  for (const button of page.querySelectorAll("[data-from][aria-pressed]")) button.removeAttribute("aria-pressed");
}

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

start?.addEventListener("click", async () => {
  say("");
  quiet();
  leaving = new AbortController();
  start.disabled = true;
  stop.hidden = progress.hidden = false;
  progress.value = 0;
  try {
    const form = new FormData();
    let sound;
    try { sound = await samples(file.files[0]); }
    catch (problem) { throw problem instanceof RangeError ? problem : new Error("This browser cannot open the file as sound. Is it a recording? Another format, such as wav or mp3, will do."); }
    form.append("audio", sound, "recording.wav");
    progress.value = 0.05;
    const answer = await fetch(page.dataset.listen, { method: "POST", body: form, signal: leaving.signal, headers: { RequestVerificationToken: page.querySelector("input[name=__RequestVerificationToken]").value } });
    if (!answer.ok) throw new Error(answer.status === 404 ? "This song is not there any more." : answer.status === 413 ? "This recording is too large. Cut out the song." : "The recording did not arrive. Load the page again, then try once more.");
    await told(answer);
  } catch (problem) {
    if (problem.name !== "AbortError") say(problem instanceof TypeError ? "The connection was lost. Try again; nothing was changed." : problem.message);
  } finally {
    start.disabled = !file.files[0];
    stop.hidden = progress.hidden = true;
  }
});
stop?.addEventListener("click", () => leaving?.abort());

async function told(answer) {
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "", heard = false;
  for (;;) {
    const { value, done } = await reader.read();
    if (done) break;
    const lines = (rest + value).split("\n");
    rest = lines.pop();
    for (const line of lines.filter(Boolean)) {
      const message = JSON.parse(line);
      if (message.done) progress.value = 0.1 + 0.9 * message.done;
      if (message.fault) throw new Error(message.fault);
      heard ||= !!message.heard;
    }
  }
  if (!heard) throw new Error("Listening broke off. Try again; nothing was changed.");
  await show();
}

// The page anew, with the file still chosen.
async function show() {
  const fresh = new DOMParser().parseFromString(await (await fetch(page.dataset.page)).text(), "text/html").querySelector("[data-record]");
  while (page.children.length > 1) page.lastElementChild.remove();
  for (const part of [...fresh.children].slice(1)) page.append(part);
  start.textContent = "Listen again";
  for (const button of page.querySelectorAll("[data-from]")) button.disabled = false;
  page.querySelector("[data-needs-file]")?.setAttribute("hidden", "");
  const said = document.getElementById("said");
  if (said) said.textContent = "Listened to; what the recording tells stands below.";
}
