import {
  answer,
  api,
  problemOf,
  type Also,
  type Between,
  type Horn,
  type HornNote,
  type Player,
  type Problem,
  type Through,
  type Way,
} from '../api/client';
import { Tone } from '../audio/tone';

export type Pitch = 'equal' | 'just' | 'natural';
type View = Player['view'];

const KEPT = 'orexis-horn';

/** What is chosen on the horn; all that the horn does is asked of the server. */
export class HornState {
  horn = $state.raw<Horn | null>(null);
  problem = $state.raw<Problem | null>(null);
  midi = $state(0);
  /** Which of the note's ways is in hand. */
  place = $state(0);
  /** The note a slur or glide starts from, when one was set down. */
  from = $state<number | null>(null);
  between = $state.raw<Between | null>(null);
  also = $state.raw<Also | null>(null);
  through = $state.raw<Through[]>([]);
  more = $state(false);
  view = $state<View>('written');
  key = $state('');
  sounding = $state<Pitch | null>(null);

  private readonly tone = new Tone();

  constructor(readonly player: Player) {
    this.view = player.view;
    this.key = localStorage.getItem(KEPT) ?? '';
    void this.load();
  }

  get note(): HornNote | null {
    return this.noteOf(this.midi);
  }

  get way(): Way | null {
    return this.note?.ways[this.place] ?? null;
  }

  noteOf(midi: number): HornNote | null {
    const first = this.horn?.notes[0];
    return first ? (this.horn?.notes[midi - first.midi] ?? null) : null;
  }

  async load(): Promise<void> {
    try {
      this.horn = await answer(
        api.GET('/api/players/{player_id}/horn', {
          params: { path: { player_id: this.player.id }, query: this.naming() },
        }),
      );
      this.problem = null;
    } catch (error) {
      this.problem = problemOf(error);
      return;
    }
    if (!this.note) this.choose(this.horn.start_midi);
    await this.ask();
  }

  step(semitones: number): void {
    this.choose(this.midi + semitones);
  }

  choose(midi: number, length?: string): void {
    const note = this.noteOf(midi);
    if (!note) return;
    this.midi = midi;
    const place = note.ways.findIndex((way) => way.length === length);
    this.place = Math.max(0, place);
    this.refreshTone();
    void this.ask();
  }

  chooseWay(steps: 1 | -1): void {
    const count = this.note?.ways.length ?? 0;
    if (!count) return;
    this.place = (this.place + steps + count) % count;
    this.refreshTone();
    void this.ask();
  }

  /** Sets the note down as the start of a slur, or takes the start away again. */
  anchor(): void {
    this.from = this.from === null ? this.midi : null;
    this.between = null;
    void this.ask();
  }

  async toggleMore(): Promise<void> {
    this.more = !this.more;
    await this.ask();
  }

  async toggleView(): Promise<void> {
    this.view = this.view === 'written' ? 'sounding' : 'written';
    await this.load();
  }

  async spellIn(key: string): Promise<void> {
    this.key = key;
    localStorage.setItem(KEPT, key);
    await this.load();
  }

  /** Sounds the note at a pitch, or falls silent when it sounds so already. */
  hear(pitch: Pitch): void {
    this.sounding = this.sounding === pitch ? null : pitch;
    if (this.sounding) this.refreshTone();
    else this.tone.stop();
  }

  leave(): void {
    this.tone.close();
  }

  private refreshTone(): void {
    const { note, sounding } = this;
    if (!note || !sounding) return;
    const hz = {
      equal: note.equal_hz,
      just: note.just_hz,
      natural: this.way?.hz ?? note.equal_hz,
    }[sounding];
    this.tone.play(hz);
  }

  private naming() {
    return { view: this.view, key: this.key || undefined };
  }

  /** Asks for what goes with the chosen notes; an answer that comes too late is dropped. */
  private async ask(): Promise<void> {
    const { midi, from, place } = this;
    const path = { player_id: this.player.id };
    const still = () => midi === this.midi && from === this.from && place === this.place;
    try {
      if (from !== null && from !== midi) {
        const between = await answer(
          api.GET('/api/players/{player_id}/horn/between', {
            params: { path, query: { from_midi: from, to_midi: midi, ...this.naming() } },
          }),
        );
        if (still()) this.between = between;
      } else {
        this.between = null;
      }
      if (!this.more) return;
      const partial = this.way?.partial ?? 4;
      const partials = [partial, Math.min(partial + 1, 16), partial];
      const [also, through] = await Promise.all([
        answer(
          api.GET('/api/players/{player_id}/horn/also', {
            params: { path, query: { midi, ...this.naming() } },
          }),
        ),
        answer(
          api.GET('/api/players/{player_id}/horn/through', {
            params: { path, query: { partials, ...this.naming() } },
          }),
        ),
      ]);
      if (still()) {
        this.also = also;
        this.through = through;
      }
    } catch (error) {
      this.problem = problemOf(error);
    }
  }
}
