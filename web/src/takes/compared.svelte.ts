import { answer, api, problemOf, type Kind, type Problem, type Schemas } from '../api/client';
import { frameAt, HOP_S, RibbonFrames } from '../ribbon/frames';
import type { KeptAt } from './kept';
import type { Listening } from './listening.svelte';
import { Opened, type Page } from './opened.svelte';

export type Comparison = Schemas['ComparisonOut'];

const STANDS_FRAMES = 8;

/** The moment of one row that is the same as a moment of the other; both rise, in seconds. */
export function laid(seconds: number, from: number[], to: number[]): number {
  const after = from.findIndex((one) => one >= seconds);
  if (after === 0) return to[0] ?? seconds;
  if (after < 0) return to.at(-1) ?? seconds;
  const [a = 0, b = a] = from.slice(after - 1, after + 1);
  const [c = 0, d = c] = to.slice(after - 1, after + 1);
  return b > a ? c + ((d - c) * (seconds - a)) / (b - a) : d;
}

/** Frames of another sound where the same is in this one, which has so many. */
export function framesLaid(
  other: RibbonFrames,
  { at_s, other_s }: Pick<Comparison, 'at_s' | 'other_s'>,
  count: number,
): RibbonFrames {
  const frames = new RibbonFrames();
  const there: number[] = [];
  let after = 1;
  for (let frame = 0; frame < count; frame++) {
    const seconds = frame * HOP_S;
    while (after < at_s.length - 1 && (at_s[after] ?? 0) < seconds) after++;
    const pair = (row: number[]) => row.slice(Math.max(after - 1, 0), after + 1);
    there.push(frameAt(laid(seconds, pair(at_s), pair(other_s))));
  }
  // Where the other stands still there is nothing to draw.
  const stands = (frame: number) => there[frame] === there[frame - STANDS_FRAMES];
  frames.put(
    0,
    there.map((at, frame) => (stands(frame) ? null : other.centsAt(at))),
    there.map((at) => other.levelAt(at)),
    there.map((at) => other.clearAt(at)),
  );
  return frames;
}

/**
 * Another sound compared with the one whose page it is, aligned by what was played: its ribbon under
 * the other, and either of them to be heard on from the same spot.
 */
export class Compared<T extends Page> {
  private readonly opened: Opened<T>;
  comparison = $state.raw<Comparison | null>(null);
  private refused = $state.raw<Problem | null>(null);
  /** Its frames where the same is in the sound of the page. */
  frames = $state.raw<RibbonFrames | null>(null);
  private asked = 0;

  constructor(
    private readonly kind: Kind,
    ask: (id: string) => Promise<T>,
  ) {
    this.opened = new Opened(kind, ask);
  }

  /** The other sound, once it is known where it lies. */
  get heard() {
    return this.comparison ? this.opened.heard : null;
  }

  get problem(): Problem | null {
    return this.opened.problem ?? this.refused;
  }

  /** Whether the other one is heard now. */
  get plays(): boolean {
    return this.heard?.listening.playing ?? false;
  }

  /** Compares another sound with one that has so many frames. */
  async open(mine: KeptAt, count: number, otherId: string): Promise<void> {
    this.close();
    const asked = ++this.asked;
    const path = { kind: mine.kind, kept_id: mine.id, other_kind: this.kind, other_id: otherId };
    try {
      const [comparison] = await Promise.all([
        answer(
          api.GET('/api/{kind}/{kept_id}/comparison/{other_kind}/{other_id}', { params: { path } }),
        ),
        this.opened.open(otherId),
      ]);
      const other = this.opened.heard;
      if (asked !== this.asked || !other) return;
      this.frames = framesLaid(other.frames, comparison, count);
      this.comparison = comparison;
    } catch (error) {
      if (asked === this.asked) this.refused = problemOf(error);
    }
  }

  close(): void {
    this.asked++;
    this.opened.close();
    this.comparison = this.frames = this.refused = null;
  }

  /** Where in the sound of the page it is heard: there, or where the same is in the other. */
  cursorOf(mine: Listening | undefined): number {
    const { comparison, heard } = this;
    return comparison && heard && this.plays
      ? laid(heard.listening.cursorS, comparison.other_s, comparison.at_s)
      : (mine?.cursorS ?? 0);
  }

  /** Plays on in the other from the same spot, or back in this one. */
  swap(mine: Listening | undefined): void {
    const { comparison, heard } = this;
    if (!mine || !comparison || !heard) return;
    const other = heard.listening;
    const at = this.plays
      ? laid(other.cursorS, comparison.other_s, comparison.at_s)
      : laid(mine.cursorS, comparison.at_s, comparison.other_s);
    const [from, to] = this.plays ? [other, mine] : [mine, other];
    from.audio?.pause();
    to.half = from.half;
    to.seek(at);
    to.toggle();
  }
}
