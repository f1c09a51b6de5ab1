import type { Mark, Schemas } from '../api/client';
import type { Stretch } from './shapes';

/** Seconds from frame to frame. */
export const HOP_S = 0.01;

/** Frames by number, as the ribbon draws them; what comes again overwrites itself. */
export class RibbonFrames {
  private first = 0;
  private cents: number[] = [];
  private level: number[] = [];
  private clear: number[] = [];

  put(
    first: number,
    cents: (number | null)[],
    level: (number | null)[],
    clear: (number | null)[],
  ): void {
    if (this.cents.length === 0) this.first = first;
    if (first < this.first) return;
    cents.forEach((value, i) => {
      const at = first - this.first + i;
      this.cents[at] = value ?? NaN;
      this.level[at] = level[i] ?? NaN;
      this.clear[at] = clear[i] ?? NaN;
    });
  }

  get end(): number {
    return this.first + this.cents.length;
  }

  centsAt(frame: number): number {
    return this.cents[frame - this.first] ?? NaN;
  }

  levelAt(frame: number): number {
    return this.level[frame - this.first] ?? NaN;
  }

  clearAt(frame: number): number {
    return this.clear[frame - this.first] ?? NaN;
  }

  /** One past the last frame with a pitch before `end`, from `start` on. */
  lastVoiced(start: number, end: number): number {
    let frame = Math.min(end, this.end);
    while (frame > start && Number.isNaN(this.centsAt(frame - 1))) frame--;
    return frame;
  }
}

/** The frames as the server gives them. */
export function ribbonOf(given: Schemas['RibbonFrames']): RibbonFrames {
  const frames = new RibbonFrames();
  frames.put(given.first, given.pitch_cents, given.level_db, given.harmonicity_db);
  return frames;
}

/** The frame that stands at a time. */
export function frameAt(seconds: number): number {
  return Math.round(seconds / HOP_S);
}

/** Marks as they are drawn; their times are from frame `first`. */
export function placed(marks: Mark[], first = 0): Stretch['marks'] {
  return marks.map(({ at_s, ...mark }) => ({ ...mark, frame: first + frameAt(at_s) }));
}

/** All of a sound as one stretch, with its marks. */
export function wholeOf(frames: RibbonFrames, marks: Mark[]): Stretch {
  return { from: 0, to: frames.end, label: '', pale: false, marks: placed(marks) };
}

/** What is marked, in a row of words. */
export function markWords(marks: { words: string }[]): string {
  return marks.map((mark) => mark.words).join(', ');
}
