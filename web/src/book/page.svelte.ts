import {
  answer,
  api,
  asSet,
  problemOf,
  type Attempt,
  type ExercisePage,
  type Piece,
  type Problem,
} from '../api/client';
import { Loaded } from '../parts/loaded.svelte';
import { bookKey } from '../players/kept';
import { addRecording } from '../takes/kept';

type Values = Record<string, string>;

const WAIT_MS = 60;

const lineOf = (page: ExercisePage | null) => page?.fields.find(({ is_line }) => is_line)?.key;

/** An exercise's page while it is read and adjusted, and its sound. */
export class OpenExercise {
  private readonly loaded = new Loaded<ExercisePage>(async (signal) => {
    const typed = this.typedLine;
    const page = await answer(
      api.GET('/api/players/{player_id}/book/{family}', { params: this.params(typed), signal }),
    );
    this.takeLine(page, typed);
    // Before its fields are drawn: one without a value would take the first of its choices. What is
    // being typed stays as it is.
    this.values = { ...page.values, ...this.values };
    return page;
  });
  /** What the fields are set to, which may be ahead of the music. */
  values = $state<Values>({});
  playing = $state(false);
  /** The line of notes as the player names them, as far as it is typed. */
  lineText = $state('');
  /** A line that was typed and is not taken yet. */
  private typedLine: string | null = null;
  /** A recording judged as an attempt at it. */
  attempt = $state.raw<Attempt | null>(null);
  /** A recording bar by bar. */
  piece = $state.raw<Piece | null>(null);
  /** The recording that was followed as this piece. */
  followedIn = $state('');
  /** The name of the file that is being listened to. */
  hearing = $state('');

  /** What went wrong with its sound or a recording of it. */
  private otherwise = $state.raw<Problem | null>(null);
  /** Done once it was read for the first time. */
  private readonly begun: Promise<void>;
  private waiting: ReturnType<typeof setTimeout> | undefined;
  private audio: HTMLAudioElement | null = null;
  /** Counts up whenever a sound is asked for or stopped: one that comes later is not played. */
  private hearings = 0;

  /** `given` is what it is set to at first; else as it was set last. `ownId` is the player's own
   * exercise that it is. */
  constructor(
    private readonly playerId: number,
    readonly family: string,
    given?: Values,
    private readonly ownId?: string,
  ) {
    this.values = given ?? this.kept();
    this.begun = this.load().then((came) => {
      // What was kept may fit this horn no more.
      if (!came && !this.page && Object.keys(this.values).length) this.reset();
    });
  }

  get page(): ExercisePage | null {
    return this.loaded.value;
  }

  /** The field that is a line of notes, where there is one. */
  get line(): string | undefined {
    return lineOf(this.page);
  }

  /** Why the page is not there. */
  get problem(): Problem | null {
    return this.page ? null : this.loaded.problem;
  }

  /** Why it cannot be as it is set (the music is still that of before), heard or judged. */
  get refused(): Problem | null {
    return this.page ? (this.loaded.problem ?? this.otherwise) : null;
  }

  /** Takes what the fields are set to now; the music follows at once. */
  adjust(): void {
    this.silence();
    clearTimeout(this.waiting);
    this.waiting = setTimeout(() => void this.load(), WAIT_MS);
  }

  /** Takes a line of notes that is typed, in the player's own names of notes. */
  typeLine(text: string): void {
    this.lineText = this.typedLine = text;
    this.adjust();
  }

  /** What was typed stays as it is typed; a line that was tapped is shown as the player names it. */
  private takeLine(page: ExercisePage, typed: string | null): void {
    const line = lineOf(page);
    if (line === undefined || this.typedLine !== typed) return;
    this.typedLine = null;
    if (typed === null) this.lineText = page.typed_line;
    else this.values = { ...this.values, [line]: page.values[line] ?? '' };
  }

  /** Sets a field and takes it. */
  put(key: string, value: string): void {
    if (key === this.line) {
      this.typedLine = null;
      this.lineText = value;
    }
    this.values = { ...this.values, [key]: value };
    this.adjust();
  }

  /** Sets some fields and takes them. */
  putAll(values: Values): void {
    this.values = { ...this.values, ...values };
    this.adjust();
  }

  /** Everything as it is usual. */
  reset(): void {
    this.values = {};
    this.typedLine = null;
    this.silence();
    void this.load();
  }

  async load(): Promise<boolean> {
    const came = await this.loaded.load();
    if (came && this.page) {
      this.otherwise = this.attempt = this.piece = null;
      localStorage.setItem(this.key, JSON.stringify(this.page.values));
    }
    return came;
  }

  /** Lets the stand-in player play it, or stops it. */
  async hear(): Promise<void> {
    // While the sound is still on its way as well.
    if (this.playing) return this.silence();
    this.playing = true;
    const mine = ++this.hearings;
    try {
      const sound = await answer(
        api.GET('/api/players/{player_id}/book/{family}/sound', {
          params: this.params(),
          parseAs: 'blob',
        }),
      );
      if (mine !== this.hearings) return;
      const audio = (this.audio = new Audio(URL.createObjectURL(sound as Blob)));
      audio.onended = () => this.silence();
      await audio.play();
    } catch (error) {
      if (mine !== this.hearings) return;
      this.silence();
      this.otherwise = problemOf(error);
    }
  }

  silence(): void {
    this.hearings++;
    if (this.audio) {
      this.audio.pause();
      URL.revokeObjectURL(this.audio.src);
      this.audio = null;
    }
    this.playing = false;
  }

  /** Keeps a recording and judges it as an attempt at what is set. */
  judge(file: File): Promise<void> {
    return this.judged(file.name, async () => (await addRecording(this.playerId, file)).id);
  }

  /** Judges a recording that is kept, or follows it bar by bar where it is of a piece. */
  judgeKept(id: string): Promise<void> {
    return this.judged('the recording', async () => {
      // What is read for the first time takes what was judged before away.
      await this.begun;
      return id;
    });
  }

  /** Takes a recording as one of this piece, and follows it bar by bar. */
  private async followed(ownId: string, kept_id: string): Promise<Piece> {
    const path = { player_id: this.playerId, own_id: ownId, kept_id };
    return answer(
      api.PUT('/api/players/{player_id}/own/{own_id}/times/{kept_id}', { params: { path } }),
    );
  }

  private async judged(name: string, keep: () => Promise<string>): Promise<void> {
    this.silence();
    this.hearing = name;
    this.attempt = this.piece = null;
    try {
      const kept_id = await keep();
      const { path, query } = this.params();
      const params = { path: { ...path, kept_id }, query };
      this.otherwise = null;
      if (this.ownId && this.page?.is_music) {
        this.piece = await this.followed(this.ownId, kept_id);
        this.followedIn = kept_id;
        return;
      }
      this.attempt = await answer(
        api.GET('/api/players/{player_id}/book/{family}/attempts/{kept_id}', { params }),
      );
      if (!this.page?.is_music) return;
      this.piece = await answer(
        api.GET('/api/players/{player_id}/book/{family}/pieces/{kept_id}', { params }),
      );
    } catch (error) {
      this.otherwise = problemOf(error);
    } finally {
      this.hearing = '';
    }
  }

  /** Where it is as a file. */
  file(kind: 'musicxml' | 'midi'): string {
    const query = asSet(this.values).map((one) => `set=${encodeURIComponent(one)}`);
    return `/api/players/${this.playerId}/book/${this.family}/${kind}?${query.join('&')}`;
  }

  leave(): void {
    clearTimeout(this.waiting);
    this.loaded.leave();
    this.silence();
  }

  private params(typed: string | null = null) {
    const path = { player_id: this.playerId, family: this.family };
    if (typed === null || !this.line) return { path, query: { set: asSet(this.values) } };
    const values = { ...this.values, [this.line]: typed };
    return { path, query: { set: asSet(values), typed: true } };
  }

  private get key(): string {
    return bookKey(this.playerId, this.family);
  }

  /** What an exercise is set to when it is opened next. */
  static set(playerId: number, family: string, values: Values): void {
    localStorage.setItem(bookKey(playerId, family), JSON.stringify(values));
  }

  private kept(): Values {
    try {
      return JSON.parse(localStorage.getItem(this.key) ?? '{}') as Values;
    } catch {
      return {};
    }
  }
}
