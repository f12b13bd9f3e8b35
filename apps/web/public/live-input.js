// Hands on what the audio input hears, in blocks. An audio worklet runs in a scope of its own and cannot be bundled.
const BLOCK = 2048;

class LiveInput extends AudioWorkletProcessor {
  constructor() {
    super();
    this.block = new Float32Array(BLOCK);
    this.filled = 0;
  }

  process([input]) {
    const channel = input[0];
    if (channel === undefined) return true;
    for (let n = 0; n < channel.length; n += 1) {
      this.block[this.filled] = channel[n];
      this.filled += 1;
      if (this.filled === BLOCK) {
        this.port.postMessage({ samples: this.block, sampleRateHz: sampleRate }, [this.block.buffer]);
        this.block = new Float32Array(BLOCK);
        this.filled = 0;
      }
    }
    return true;
  }
}

registerProcessor('live-input', LiveInput);
