/** Clicks of the metronome, each put on its sample of the audio clock. */
import type { Schemas } from '../api/client';

export type Beat = Schemas['BeatOut'];

const LENGTH_S = 0.012;
const SOUND = { bar: [1760, 0.5], beat: [1320, 0.35], part: [1320, 0.14] } as const;

/** A click: a short tone that starts at once and has died away before a note could be taken for it. */
export function clickOf(context: BaseAudioContext, kind: Beat['click']): AudioBuffer {
  const [hz, gain] = SOUND[kind];
  const buffer = context.createBuffer(
    1,
    Math.round(LENGTH_S * context.sampleRate),
    context.sampleRate,
  );
  const samples = buffer.getChannelData(0);
  for (let i = 0; i < samples.length; i++) {
    const t = i / context.sampleRate;
    samples[i] = gain * Math.cos(2 * Math.PI * hz * t) * (1 - i / samples.length) ** 2;
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
