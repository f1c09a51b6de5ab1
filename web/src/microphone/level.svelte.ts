import type { MicrophoneHeard } from '../api/client';
import { Metering } from './metering';

/** How loud it is at an ear, and what is known of its microphone. */
export class Level {
  peak = $state(0);
  /** Nothing at all comes in. */
  mute = $state(false);
  /** How well the microphone hears, as far as that was told. */
  heard = $state.raw<MicrophoneHeard | null>(null);

  private readonly metering = new Metering(
    (peak) => (this.peak = peak),
    (mute) => (this.mute = mute),
  );

  /** Begins anew, with another ear. */
  begin(): void {
    this.end();
    this.metering.reset();
  }

  /** The loudest sample, in dB re full scale. */
  get peakDb(): number {
    return this.peak > 0 ? 20 * Math.log10(this.peak) : -Infinity;
  }

  put(peak: number): void {
    this.metering.put(peak);
  }

  end(): void {
    this.peak = 0;
    this.mute = false;
    this.heard = null;
  }
}
