import { answer, api, type Field, type Horn, type Player } from '../api/client';
import { Loaded } from '../parts/loaded.svelte';
import type { Action } from '../parts/keys.svelte';
import { known } from '../api/fields.svelte';
import { next, withoutLast, withSlot, withWord, type Pen } from './line';

/** Writing a line by tapping slots: the horn, the pen, and the slot that is chosen. */
export class Tapping {
  private readonly loaded: Loaded<Horn>;
  readonly beats = known.fields.pen.beats as Field;
  readonly loud = known.fields.pen.loud as Field;
  pen = $state<Pen>({
    beats: String(this.beats.usual),
    slurred: true,
    loud: String(this.loud.usual),
  });
  column = $state(0);
  partial = $state(3);

  constructor(player: Player) {
    this.loaded = new Loaded((signal) =>
      answer(
        api.GET('/api/players/{player_id}/horn', {
          params: { path: { player_id: player.id } },
          signal,
        }),
      ),
    );
    void this.loaded.load();
  }

  /** The lengths that are learnt, each with the slots that lie in the horn's range. */
  get columns() {
    const horn = this.loaded.value;
    const low = (horn?.notes[0]?.midi ?? 0) - 0.5;
    const high = (horn?.notes.at(-1)?.midi ?? 127) + 0.5;
    return (horn?.lengths ?? [])
      .filter(({ learned }) => learned)
      .map(({ name, hand, slots }) => ({
        name,
        hand,
        slots: slots.filter(({ pitch }) => pitch >= low && pitch <= high),
      }));
  }

  leave(): void {
    this.loaded.leave();
  }

  /** The line with the chosen slot at its end. */
  tapped(line: string): string {
    const column = this.columns[this.column];
    const slot = column?.slots.find(({ partial }) => partial === this.partial);
    if (!column || !slot) return line;
    const { partial, midi } = slot;
    return withSlot(
      line,
      { length: column.name, partial, midi },
      this.pen,
      String(this.loud.usual),
    );
  }

  move(across: number, up: number): void {
    this.column = Math.max(0, Math.min(this.columns.length - 1, this.column + across));
    const partials = this.columns[this.column]?.slots.map(({ partial }) => partial) ?? [];
    const wanted = this.partial + up;
    this.partial = Math.max(Math.min(...partials), Math.min(Math.max(...partials), wanted));
  }

  /** What the keys do; `write` is given what the line is changed by. */
  actions(write: (change: (line: string) => string) => void): Action[] {
    const quiet = true;
    return [
      { keys: ['t'], shown: 'T', label: 'tap', run: () => write((line) => this.tapped(line)) },
      { keys: ['ArrowUp'], shown: '↑', label: 'partial up', run: () => this.move(0, 1), quiet },
      {
        keys: ['ArrowDown'],
        shown: '↓',
        label: 'partial down',
        run: () => this.move(0, -1),
        quiet,
      },
      {
        keys: ['ArrowLeft'],
        shown: '←',
        label: 'fingering or position before',
        run: () => this.move(-1, 0),
        quiet,
      },
      {
        keys: ['ArrowRight'],
        shown: '→',
        label: 'next fingering or position',
        run: () => this.move(1, 0),
        quiet,
      },
      {
        keys: ['.'],
        shown: '.',
        label: 'longer notes',
        run: () => (this.pen.beats = next(this.beats, this.pen.beats, 1)),
        quiet,
      },
      {
        keys: [','],
        shown: ',',
        label: 'shorter notes',
        run: () => (this.pen.beats = next(this.beats, this.pen.beats, -1)),
        quiet,
      },
      {
        keys: ['l'],
        shown: 'L',
        label: this.pen.slurred ? 'tongued from here' : 'slurred from here',
        run: () => (this.pen.slurred = !this.pen.slurred),
        quiet,
      },
      {
        keys: ['f'],
        shown: 'F',
        label: 'louder',
        run: () => (this.pen.loud = next(this.loud, this.pen.loud, 1)),
        quiet,
      },
      {
        keys: ['s'],
        shown: 'S',
        label: 'softer',
        run: () => (this.pen.loud = next(this.loud, this.pen.loud, -1)),
        quiet,
      },
      {
        keys: ['r'],
        shown: 'R',
        label: 'a rest',
        run: () => write((line) => withWord(line, `-:${this.pen.beats}`)),
        quiet,
      },
      {
        keys: ['b'],
        shown: 'B',
        label: 'a breath',
        run: () => write((line) => withWord(line, "'")),
        quiet,
      },
      { keys: ['Backspace'], shown: '⌫', label: 'take back', run: () => write(withoutLast) },
    ];
  }
}
