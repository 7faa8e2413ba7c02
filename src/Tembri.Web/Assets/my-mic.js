// The phone's microphone: what it hears goes to whoever listens on this page and nowhere else.
const SAYS = {
  NotAllowedError: "The microphone is not allowed here. Allow it in the browser's settings for this page, or count by pressing.",
  NotFoundError: "This phone has no microphone that the browser can use. Count by pressing.",
  NotReadableError: "Another program holds the microphone. Close it, or count by pressing.",
};

export class Microphone {
  #stream = null; #context = null; #turn = 0;
  get open() { return this.#stream !== null; }

  /**
   * Opens it. Whatever makes speech clearer spoils a guitar, so that is asked to stay off.
   * @param {string} worklet address of the part that runs beside the page
   * @param {(rate: number) => (samples: Float32Array) => void} begin told the samples a second, answers who takes them
   * @returns {Promise<boolean>} false when it was closed while it opened
   */
  async listen(worklet, begin) {
    if (!navigator.mediaDevices?.getUserMedia) throw new Error("The browser gives the microphone only to pages that came safely (https). Count by pressing.");
    this.close();
    const turn = this.#turn;
    try {
      const stream = await navigator.mediaDevices.getUserMedia({ audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false }, video: false });
      // Who went on while the browser asked is not listened to.
      if (turn !== this.#turn) { for (const track of stream.getTracks()) track.stop(); return false; }
      this.#stream = stream;
      const context = this.#context = new AudioContext();
      await context.audioWorklet.addModule(worklet);
      await context.resume();
      if (turn !== this.#turn) return false;
      const take = begin(context.sampleRate);
      const pieces = new AudioWorkletNode(context, "tembri-pieces", { numberOfOutputs: 0 });
      pieces.port.onmessage = event => take(event.data);
      context.createMediaStreamSource(stream).connect(pieces);
      return true;
    } catch (e) {
      if (turn !== this.#turn) return false;
      this.close();
      throw new Error(SAYS[e.name] ?? "The microphone could not be opened. Count by pressing.", { cause: e });
    }
  }

  close() {
    this.#turn++;
    for (const track of this.#stream?.getTracks() ?? []) track.stop();
    this.#context?.close();
    [this.#stream, this.#context] = [null, null];
  }
}
