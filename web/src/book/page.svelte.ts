import {
  answer,
  api,
  problemOf,
  type Attempt,
  type ExercisePage,
  type Problem,
} from '../api/client';
import { addRecording } from '../takes/kept';

type Values = Record<string, string>;

const WAIT_MS = 60;

/** An exercise's page while it is read and adjusted, and its sound. */
export class OpenExercise {
  page = $state.raw<ExercisePage | null>(null);
  /** What the fields are set to, which may be ahead of the music. */
  values = $state<Values>({});
  /** Why the page is not there. */
  problem = $state.raw<Problem | null>(null);
  /** Why it cannot be as it is set; the music is still that of before. */
  refused = $state.raw<Problem | null>(null);
  playing = $state(false);
  /** A recording judged as an attempt at it. */
  attempt = $state.raw<Attempt | null>(null);
  /** The name of the file that is being listened to. */
  hearing = $state('');

  private asking: AbortController | null = null;
  private waiting: ReturnType<typeof setTimeout> | undefined;
  private audio: HTMLAudioElement | null = null;

  constructor(
    private readonly playerId: number,
    readonly family: string,
  ) {
    this.values = this.kept();
    void this.load(true);
  }

  /** Takes what the fields are set to now; the music follows at once. */
  adjust(): void {
    this.silence();
    clearTimeout(this.waiting);
    this.waiting = setTimeout(() => void this.load(), WAIT_MS);
  }

  /** Everything as it is usual. */
  reset(): void {
    this.values = {};
    this.silence();
    void this.load();
  }

  async load(first = false): Promise<void> {
    this.asking?.abort();
    const asking = (this.asking = new AbortController());
    try {
      const page = await answer(
        api.GET('/api/players/{player_id}/book/{family}', {
          params: this.params(),
          signal: asking.signal,
        }),
      );
      if (asking.signal.aborted) return;
      this.page = page;
      // What is being typed stays as it is.
      this.values = { ...page.values, ...this.values };
      this.problem = this.refused = this.attempt = null;
      localStorage.setItem(this.key, JSON.stringify(page.values));
    } catch (error) {
      if (asking.signal.aborted) return;
      const problem = problemOf(error);
      if (this.page) this.refused = problem;
      else if (first && Object.keys(this.values).length) this.reset();
      else this.problem = problem;
    }
  }

  /** Lets the stand-in player play it, or stops it. */
  async hear(): Promise<void> {
    if (this.audio) return this.silence();
    this.playing = true;
    try {
      const sound = await answer(
        api.GET('/api/players/{player_id}/book/{family}/sound', {
          params: this.params(),
          parseAs: 'blob',
        }),
      );
      if (!this.playing) return;
      const audio = (this.audio = new Audio(URL.createObjectURL(sound as Blob)));
      audio.onended = () => this.silence();
      await audio.play();
    } catch (error) {
      this.silence();
      this.refused = problemOf(error);
    }
  }

  silence(): void {
    if (this.audio) {
      this.audio.pause();
      URL.revokeObjectURL(this.audio.src);
      this.audio = null;
    }
    this.playing = false;
  }

  /** Keeps a recording and judges it as an attempt at what is set. */
  async judge(file: File): Promise<void> {
    this.silence();
    this.hearing = file.name;
    this.attempt = null;
    try {
      const { id } = await addRecording(this.playerId, file);
      const { path, query } = this.params();
      this.attempt = await answer(
        api.GET('/api/players/{player_id}/book/{family}/attempts/{kept_id}', {
          params: { path: { ...path, kept_id: id }, query },
        }),
      );
      this.refused = null;
    } catch (error) {
      this.refused = problemOf(error);
    } finally {
      this.hearing = '';
    }
  }

  /** Where it is as a file. */
  file(kind: 'musicxml' | 'midi'): string {
    const query = this.set().map((one) => `set=${encodeURIComponent(one)}`);
    return `/api/players/${this.playerId}/book/${this.family}/${kind}?${query.join('&')}`;
  }

  leave(): void {
    clearTimeout(this.waiting);
    this.asking?.abort();
    this.silence();
  }

  private params() {
    const path = { player_id: this.playerId, family: this.family };
    return { path, query: { set: this.set() } };
  }

  private set(): string[] {
    return Object.entries(this.values).map(([key, value]) => `${key}=${value}`);
  }

  private get key(): string {
    return `orexis-book-${this.playerId}-${this.family}`;
  }

  private kept(): Values {
    try {
      return JSON.parse(localStorage.getItem(this.key) ?? '{}') as Values;
    } catch {
      return {};
    }
  }
}
