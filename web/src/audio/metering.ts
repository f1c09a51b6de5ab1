const FASTEST_MS = 50;

/** How loud it is at the ear, told so often that an eye can follow, and no peak left out. */
export class Metering {
  private held = 0;
  private told = -Infinity;

  constructor(private readonly onpeak: (peak: number) => void) {}

  put(peak: number): void {
    const now = performance.now();
    this.held = Math.max(peak, this.held);
    if (now - this.told < FASTEST_MS) return;
    this.onpeak(this.held);
    this.held = 0;
    this.told = now;
  }
}
