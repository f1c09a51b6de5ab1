const FASTEST_MS = 50;
const MUTE_AFTER_MS = 2000;
/** Two steps of 16 bits: no microphone that is open is as still as this, in any room. */
const STILL = 2 / 32_768;

/** How loud it is at the ear, told so often that an eye can follow, and no peak left out; and
 * whether nothing at all has come in for a while. */
export class Metering {
  private held = 0;
  private told = -Infinity;
  private stillSince: number | null = null;
  private mute = false;

  constructor(
    private readonly onpeak: (peak: number) => void,
    private readonly onmute: (mute: boolean) => void = () => undefined,
  ) {}

  /** Begins anew, with another ear. */
  reset(): void {
    this.stillSince = null;
    this.mute = false;
  }

  put(peak: number): void {
    const now = performance.now();
    this.listenForNothing(peak, now);
    this.held = Math.max(peak, this.held);
    if (now - this.told < FASTEST_MS) return;
    this.onpeak(this.held);
    this.held = 0;
    this.told = now;
  }

  private listenForNothing(peak: number, now: number): void {
    this.stillSince = peak > STILL ? null : (this.stillSince ?? now);
    const mute = this.stillSince !== null && now - this.stillSince >= MUTE_AFTER_MS;
    if (mute !== this.mute) this.onmute((this.mute = mute));
  }
}
