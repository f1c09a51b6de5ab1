import { problemOf, type Kind, type Bookmark, type Problem } from '../api/client';
import { Loaded } from '../parts/loaded.svelte';
import { ribbonOf, type RibbonFrames } from '../ribbon/frames';
import { Listening } from './listening.svelte';

/** What the pages of takes and recordings have in common. */
export interface Page {
  duration_s: number;
  bookmarks: Bookmark[];
  frames: Parameters<typeof ribbonOf>[0];
  /** False where only what was measured is kept. */
  has_sound?: boolean;
  /** Where nothing is played, for what is longer than one attempt. */
  pauses?: { start_s: number; end_s: number }[];
  pauses_words?: string;
}

/** All that is kept of a sound, its ribbon, and listening back to it. */
export interface Heard<T> {
  page: T;
  listening: Listening;
  frames: RibbonFrames;
}

/** A take or a recording whose page is open; the one that was opened last counts. */
export class Opened<T extends Page> {
  private id = '';
  private startS = 0;
  private readonly loaded: Loaded<Heard<T>>;
  private soundProblem = $state.raw<Problem | null>(null);

  constructor(kind: Kind, ask: (id: string) => Promise<T>) {
    this.loaded = new Loaded(async () => {
      const kept = { kind, id: this.id };
      const page = await ask(kept.id);
      const silent = page.has_sound === false;
      const listening = new Listening(
        kept,
        page.duration_s,
        page.bookmarks,
        silent,
        this.startS,
        page.pauses,
        page.pauses_words,
      );
      return { page, listening, frames: ribbonOf(page.frames) };
    });
  }

  get heard(): Heard<T> | null {
    return this.loaded.value;
  }

  get problem(): Problem | null {
    return this.loaded.problem ?? this.soundProblem;
  }

  /** Opens one in place of the one that is open, at a place in it. */
  async open(id: string, startS = 0): Promise<void> {
    this.close();
    this.id = id;
    this.startS = startS;
    if (!(await this.loaded.load())) return;
    const opened = this.heard;
    try {
      await opened?.listening.load();
    } catch (error) {
      if (opened?.listening === this.heard?.listening) this.soundProblem = problemOf(error);
    }
  }

  /** Shows what is kept of it after a change. */
  put(page: T): void {
    if (this.heard) this.loaded.value = { ...this.heard, page };
  }

  close(): void {
    this.heard?.listening.close();
    this.soundProblem = null;
    this.loaded.leave();
  }
}
