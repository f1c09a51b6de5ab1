/** Clicks of the metronome, each put on its sample of the audio clock. */
import type { Schemas } from '../api/client';

export type Beat = Schemas['BeatOut'];
type Sounds = Schemas['Click'];

const LENGTH_S = 0.012;
/** From and to which pitch (Hz) a click sweeps, and how loud it is. */
const SOUND: Record<Sounds, readonly [number, number, number]> = {
  bar: [6000, 1500, 0.5],
  group: [5000, 1200, 0.42],
  beat: [4000, 900, 0.35],
  part: [4000, 900, 0.14],
};

/** A click: a sweep that starts at once and dies away. It holds no pitch, so no ear takes it for a
 * note. */
export function clickOf(context: BaseAudioContext, kind: Beat['click']): AudioBuffer {
  const [from, to, gain] = SOUND[kind];
  const rate = context.sampleRate;
  const buffer = context.createBuffer(1, Math.round(LENGTH_S * rate), rate);
  const samples = buffer.getChannelData(0);
  for (let i = 0; i < samples.length; i++) {
    const t = i / rate;
    const turns = from * t + ((to - from) * t * t) / (2 * LENGTH_S);
    samples[i] = gain * Math.cos(2 * Math.PI * turns) * (1 - i / samples.length) ** 2;
  }
  return buffer;
}

/** Puts clicks on the clock; `timeOf` says when (s) a sample of the session is. What is past already
 * is left out. Returns what stops them. */
export function schedule(
  context: BaseAudioContext,
  beats: Pick<Beat, 'sample' | 'click'>[],
  timeOf: (sample: number) => number,
): () => void {
  const playing = beats.flatMap(({ sample, click }) => {
    const at = timeOf(sample);
    if (at < context.currentTime) return [];
    const source = new AudioBufferSourceNode(context, { buffer: clickOf(context, click) });
    source.connect(context.destination);
    source.start(at);
    return [source];
  });
  return () => {
    for (const source of playing) {
      source.stop();
      source.disconnect();
    }
  };
}
