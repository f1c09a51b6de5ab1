/** Light by day, dark in the evening: the system's choice until the player makes one. */
type Mode = 'light' | 'dark';

const KEY = 'orexis-mode';

class Theme {
  mode = $state<Mode>('light');
  private chosen: Mode = 'light';

  constructor() {
    const kept = localStorage.getItem(KEY);
    const system = matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
    this.set(kept === 'dark' || kept === 'light' ? kept : system);
  }

  toggle(): void {
    this.set(this.mode === 'dark' ? 'light' : 'dark');
    localStorage.setItem(KEY, this.mode);
  }

  /** Ink on paper while a page is printed; what was chosen is back after it. */
  onPaper(printing: boolean): void {
    if (printing) this.chosen = this.mode;
    this.set(printing ? 'light' : this.chosen);
  }

  private set(mode: Mode): void {
    this.mode = mode;
    document.documentElement.dataset['mode'] = mode;
  }
}

export const theme = new Theme();
