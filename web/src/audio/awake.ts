/** Keeps the screen on while somebody plays: hands that hold a horn touch nothing. */
class Awake {
  private wanted = false;
  private lock: WakeLockSentinel | null = null;

  constructor() {
    // A page that was hidden has lost it.
    document.addEventListener('visibilitychange', () => void this.ask());
  }

  hold(): void {
    this.wanted = true;
    void this.ask();
  }

  release(): void {
    this.wanted = false;
    void this.lock?.release();
    this.lock = null;
  }

  private async ask(): Promise<void> {
    if (!this.wanted || document.visibilityState !== 'visible' || !('wakeLock' in navigator))
      return;
    try {
      const lock = await navigator.wakeLock.request('screen');
      if (this.wanted) this.lock = lock;
      else await lock.release();
    } catch {
      // A battery that runs low may refuse it; playing goes on.
    }
  }
}

export const awake = new Awake();
