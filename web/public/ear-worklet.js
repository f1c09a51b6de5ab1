/**
 * The ear: whatever reaches this node is cut into chunks of 512 mono samples, 16 bit, and
 * handed to the page with its peak and the time of its first sample on the audio clock. With nothing
 * connected it hears silence and goes on counting, so the audio clock never stops.
 */
const CHUNK_SAMPLES = 512;

class Ear extends AudioWorkletProcessor {
  chunk = new Int16Array(CHUNK_SAMPLES);
  filled = 0;
  peak = 0;
  first = 0;

  process([input]) {
    const channels = input.length;
    const length = channels ? input[0].length : 128;
    for (let i = 0; i < length; i++) {
      let sample = 0;
      for (let channel = 0; channel < channels; channel++) sample += input[channel][i];
      sample = Math.max(-1, Math.min(1, channels ? sample / channels : 0));
      this.peak = Math.max(this.peak, Math.abs(sample));
      if (!this.filled) this.first = currentFrame + i;
      this.chunk[this.filled++] = Math.max(-32768, Math.min(32767, Math.round(sample * 32768)));
      if (this.filled === CHUNK_SAMPLES) this.hand();
    }
    return true;
  }

  hand() {
    const { chunk, peak, first } = this;
    this.port.postMessage({ pcm: chunk.buffer, peak, first }, [chunk.buffer]);
    this.chunk = new Int16Array(CHUNK_SAMPLES);
    this.filled = 0;
    this.peak = 0;
  }
}

registerProcessor('ear', Ear);
