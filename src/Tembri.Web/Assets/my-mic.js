// The phone's microphone: what it hears goes to whoever listens on this page and nowhere else.
const SAYS = {
  NotAllowedError: "The microphone is not allowed here. Allow it in the browser's settings for this page, or count by pressing.",
  NotFoundError: "This phone has no microphone that the browser can use. Count by pressing.",
  NotReadableError: "Another program holds the microphone. Close it, or count by pressing.",
};

export class Microphone {
  #stream = null; #context = null;
  get open() { return this.#stream !== null; }

  /**
   * Opens it. Whatever makes speech clearer spoils a guitar, so that is asked to stay off.
   * @param {string} worklet address of the part that runs beside the page
   * @param {(rate: number) => (samples: Float32Array) => void} begin told the samples a second, answers who takes them
   */
  async listen(worklet, begin) {
    if (!navigator.mediaDevices?.getUserMedia) throw new Error("The browser gives the microphone only to pages that came safely (https). Count by pressing.");
    try {
      this.#stream = await navigator.mediaDevices.getUserMedia({ audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false }, video: false });
      this.#context = new AudioContext();
      await this.#context.audioWorklet.addModule(worklet);
      await this.#context.resume();
      const take = begin(this.#context.sampleRate);
      const pieces = new AudioWorkletNode(this.#context, "tembri-pieces", { numberOfOutputs: 0 });
      pieces.port.onmessage = event => take(event.data);
      this.#context.createMediaStreamSource(this.#stream).connect(pieces);
    } catch (e) {
      this.close();
      throw new Error(SAYS[e.name] ?? "The microphone could not be opened. Count by pressing.", { cause: e });
    }
  }

  close() {
    for (const track of this.#stream?.getTracks() ?? []) track.stop();
    this.#context?.close();
    [this.#stream, this.#context] = [null, null];
  }
}
