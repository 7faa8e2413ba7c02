// Hands what the microphone hears to the page, in pieces; nothing of it is kept or sent.
const PIECE = 1024;

class Pieces extends AudioWorkletProcessor {
  #piece = new Float32Array(PIECE); #filled = 0;
  process([[channel]]) {
    for (const sample of channel ?? []) {
      this.#piece[this.#filled++] = sample;
      if (this.#filled < PIECE) continue;
      this.port.postMessage(this.#piece, [this.#piece.buffer]);
      [this.#piece, this.#filled] = [new Float32Array(PIECE), 0];
    }
    return true;
  }
}
registerProcessor("tembri-pieces", Pieces);
