/** What the metronome is set to, and the tempo that is tapped. */
import type { Fields, Schemas } from '../api/client';

export type Pulse = Schemas['PulseIn'];
export type PulseBeat = Schemas['PulseBeatOut'];

const LONGEST_TAP_MS = 3000;
const TAPS = 5;

/** What it is set to before anybody has set it. */
export function usualPulse({ metronome }: Fields): Pulse {
  const number = (key: string) => Number(metronome[key]?.usual ?? 0);
  return {
    bpm: number('bpm'),
    bars: String(metronome.bars?.usual ?? ''),
    parts: number('parts'),
    sounding_bars: number('sounding_bars'),
    silent_bars: number('silent_bars'),
    growth_bpm: number('growth_bpm'),
    growth_bars: number('growth_bars'),
    highest_bpm: number('highest_bpm'),
  };
}

/** Taps in a row; `bpm` is the tempo of the last few, null of one. */
export class Taps {
  private at: number[] = [];

  tap(ms: number): number | null {
    const last = this.at.at(-1);
    if (last !== undefined && ms - last > LONGEST_TAP_MS) this.at = [];
    this.at = [...this.at, ms].slice(-TAPS);
    const [first] = this.at;
    if (first === undefined || this.at.length < 2) return null;
    return Math.round((60_000 * (this.at.length - 1)) / (ms - first));
  }
}
