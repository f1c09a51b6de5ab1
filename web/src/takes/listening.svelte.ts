import { push } from 'svelte-spa-router';
import { problemOf, type Bookmark } from '../api/client';
import { bringBack, deleteSound } from './deletion';
import { fetchSound, goBack, pagePath, bookmarkAt, removeBookmark, type KeptAt } from './kept';
import type { Action } from '../parts/keys.svelte';

const STEP_S = 0.5;
const NEAR_S = 0.05;
const ZOOMS = [1, 2, 4, 8, 16, 32, 64, 128, 256, 512];
/** So many steps closer every sound can be seen, and a long one until so many seconds are seen. */
const USUAL_ZOOMS = 4;
const NARROWEST_S = 1;
/** Longer sounds start zoomed in, so that a note is wide enough to see. */
const WIDEST_S = 30;
const TURN_AT = 0.9;
const LEAD = 0.1;

/**
 * Listening back to one sound: playing, the place in it, speed, a loop, zoom and bookmarks. The view
 * puts `audio` into the page and draws what is here.
 */
export class Listening {
  audio = $state<HTMLAudioElement>();
  soundUrl = $state('');
  playing = $state(false);
  playAtOnce = $state(false);
  cursorS = $state(0);
  half = $state(false);
  /** A stretch to hear again and again, in seconds; open-ended while only its start is set. */
  loop = $state.raw<{ startS: number; endS: number | null } | null>(null);
  bookmarks = $state.raw<Bookmark[]>([]);
  /** The words of a bookmark are being typed. */
  bookmarking = $state(false);
  trouble = $state('');
  /** Pauses are passed over while it plays. */
  skipping = $state(false);
  private zoom = $state(0);
  fromS = $state(0);

  constructor(
    readonly kept: KeptAt,
    readonly durationS: number,
    bookmarks: Bookmark[],
    /** There is no sound to listen to: only what was measured is kept. */
    readonly silent = false,
    /** Where in it one begins. */
    startS = 0,
    /** Where nothing is played, and how long that is in all. */
    readonly pauses: { start_s: number; end_s: number }[] = [],
    readonly pausesWords = '',
  ) {
    this.bookmarks = bookmarks;
    while (this.windowS > WIDEST_S && this.zoom < ZOOMS.length - 1) this.zoom++;
    this.place(startS);
  }

  /** Whether there is nothing closer to be seen. */
  private get isClosest(): boolean {
    return this.zoom >= USUAL_ZOOMS && this.windowS / 2 < NARROWEST_S;
  }

  /** Seconds across the view. */
  get windowS(): number {
    return this.durationS / (ZOOMS[this.zoom] ?? 1);
  }

  async load(): Promise<void> {
    if (this.silent) return;
    this.soundUrl = await fetchSound(this.kept);
  }

  close(): void {
    this.audio?.pause();
    if (this.soundUrl) URL.revokeObjectURL(this.soundUrl);
    this.soundUrl = '';
  }

  /** Keeps the place with the sound's own clock; called at every picture while it plays. */
  follow(): void {
    this.place(this.audio?.currentTime ?? 0);
    if (this.loop?.endS && this.cursorS >= this.loop.endS) this.seek(this.loop.startS);
    if (!this.skipping) return;
    const pause = this.pauses.find(
      ({ start_s, end_s }) => this.cursorS >= start_s && this.cursorS < end_s - NEAR_S,
    );
    if (pause) this.seek(pause.end_s);
  }

  toggle(): void {
    if (!this.audio) {
      // The sound is still on its way.
      this.playAtOnce = !this.playAtOnce;
    } else if (this.audio.paused) {
      // Leaving the page while it starts is no error.
      this.audio.play().catch(() => undefined);
    } else {
      this.audio.pause();
    }
  }

  seek(seconds: number): void {
    if (!this.audio) return;
    this.audio.currentTime = Math.max(0, Math.min(this.durationS, seconds));
    this.place(this.audio.currentTime);
  }

  private place(seconds: number): void {
    this.cursorS = seconds;
    // The view turns like a page.
    const share = (seconds - this.fromS) / this.windowS;
    if (share < 0 || share > TURN_AT) this.showFrom(seconds - LEAD * this.windowS);
  }

  private showFrom(seconds: number): void {
    this.fromS = Math.max(0, Math.min(this.durationS - this.windowS, seconds));
  }

  zoomBy(steps: 1 | -1): void {
    const share = (this.cursorS - this.fromS) / this.windowS;
    if (steps > 0 && this.isClosest) return;
    this.zoom = Math.max(0, Math.min(ZOOMS.length - 1, this.zoom + steps));
    this.showFrom(this.cursorS - Math.max(0, Math.min(1, share)) * this.windowS);
  }

  setLoop(): void {
    if (!this.loop) this.loop = { startS: this.cursorS, endS: null };
    else if (this.loop.endS === null && this.cursorS > this.loop.startS + 0.1) {
      this.loop = { ...this.loop, endS: this.cursorS };
    } else this.loop = null;
  }

  /** Goes to the next spot, or the one before: bookmarks and marks alike. */
  jump(way: 1 | -1, marks: { at_s: number }[]): void {
    const spots = [...marks, ...this.bookmarks].map((spot) => spot.at_s).sort((a, b) => a - b);
    const found =
      way > 0
        ? spots.find((at) => at > this.cursorS + NEAR_S)
        : spots.findLast((at) => at < this.cursorS - NEAR_S);
    if (found !== undefined) this.seek(found);
  }

  async bookmark(words: string): Promise<void> {
    this.bookmarking = false;
    await this.tell(async () => {
      const added = await bookmarkAt(this.kept, this.cursorS, words);
      this.bookmarks = [...this.bookmarks, added].sort((a, b) => a.at_s - b.at_s);
    });
  }

  async removeBookmark(bookmark: Bookmark): Promise<void> {
    await this.tell(async () => {
      await removeBookmark(this.kept, bookmark);
      this.bookmarks = this.bookmarks.filter(({ id }) => id !== bookmark.id);
    });
  }

  /** Says that one has been back to a bookmark, or takes it back. */
  async goneBack(bookmark: Bookmark): Promise<void> {
    await this.tell(async () => {
      const changed = await goBack(this.kept, bookmark, !bookmark.gone_back);
      this.bookmarks = this.bookmarks.map((one) => (one.id === changed.id ? changed : one));
    });
  }

  /** The bookmark at the cursor, or the nearest one before it. */
  get pinHere(): Bookmark | undefined {
    return this.bookmarks.findLast((bookmark) => bookmark.at_s <= this.cursorS + NEAR_S);
  }

  private async tell(call: () => Promise<void>): Promise<void> {
    try {
      await call();
      this.trouble = '';
    } catch (error) {
      this.trouble = problemOf(error).detail;
    }
  }

  private async remove(): Promise<void> {
    const page = pagePath(this.kept);
    if (await deleteSound(this.kept, () => void push(page))) void push('/takes');
  }

  /** What the keys do while listening; `marks` are the other spots to go to. */
  actions(marks: { at_s: number }[]): Action[] {
    const disabled = !this.soundUrl;
    const bookmark = this.pinHere;
    return [
      ...(this.bookmarking
        ? [
            {
              keys: ['Escape'],
              shown: 'Esc',
              label: 'no bookmark',
              run: () => void (this.bookmarking = false),
              quiet: true,
            },
          ]
        : []),
      {
        keys: [' '],
        shown: 'Space',
        label: this.playing ? 'pause' : 'play',
        run: () => this.toggle(),
        disabled: this.silent,
      },
      {
        keys: ['ArrowLeft', 'PageUp'],
        shown: '←',
        label: 'back',
        run: () => this.seek(this.cursorS - STEP_S),
        disabled,
        quiet: true,
      },
      {
        keys: ['ArrowRight', 'PageDown'],
        shown: '→',
        label: 'on',
        run: () => this.seek(this.cursorS + STEP_S),
        disabled,
        quiet: true,
      },
      {
        keys: ['ArrowDown'],
        shown: '↓',
        label: 'next spot',
        run: () => this.jump(1, marks),
        disabled,
      },
      {
        keys: ['ArrowUp'],
        shown: '↑',
        label: 'spot before',
        run: () => this.jump(-1, marks),
        disabled,
        quiet: true,
      },
      {
        keys: ['s'],
        shown: 'S',
        label: this.half ? 'full speed' : 'half speed',
        run: () => (this.half = !this.half),
        disabled,
      },
      {
        keys: ['l'],
        shown: 'L',
        label: !this.loop ? 'loop from here' : this.loop.endS === null ? 'loop to here' : 'no loop',
        run: () => this.setLoop(),
        disabled,
      },
      ...(this.pauses.length
        ? [
            {
              keys: ['j'],
              shown: 'J',
              label: this.skipping ? 'play pauses too' : `skip pauses (${this.pausesWords})`,
              run: () => void (this.skipping = !this.skipping),
              disabled,
            },
          ]
        : []),
      {
        keys: ['+', '='],
        shown: '+',
        label: 'closer',
        run: () => this.zoomBy(1),
        disabled: this.silent || this.isClosest,
      },
      {
        keys: ['-'],
        shown: '−',
        label: 'wider',
        run: () => this.zoomBy(-1),
        disabled: this.zoom === 0,
        quiet: true,
      },
      {
        keys: ['n'],
        shown: 'N',
        label: 'bookmark this spot',
        run: () => (this.bookmarking = true),
        disabled,
      },
      {
        keys: ['u'],
        shown: 'U',
        label: bookmark
          ? `take bookmark ${this.bookmarks.indexOf(bookmark) + 1} away`
          : 'take the bookmark away',
        run: () => bookmark && void this.removeBookmark(bookmark),
        disabled: !bookmark,
        quiet: true,
      },
      {
        keys: ['g'],
        shown: 'G',
        label: bookmark
          ? `bookmark ${this.bookmarks.indexOf(bookmark) + 1}: ${bookmark.gone_back ? 'still to do' : 'been there'}`
          : 'been at the bookmark',
        run: () => bookmark && void this.goneBack(bookmark),
        disabled: !bookmark,
        quiet: true,
      },
      {
        keys: ['Delete', 'Backspace'],
        shown: 'Delete',
        label: 'delete',
        run: () => void this.remove(),
        quiet: true,
      },
    ];
  }
}

/** What the keys do beside a sound that was kept, whether it could be fetched or not. */
export const LEAVING: Action[] = [
  { keys: ['z'], shown: 'Z', label: 'bring back', run: () => void bringBack(), quiet: true },
  { keys: ['Escape'], shown: 'Esc', label: 'all takes', run: () => void push('/takes') },
];
