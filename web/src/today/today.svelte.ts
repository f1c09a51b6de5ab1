import { answer, api, problemOf, type Player, type Problem, type Schemas } from '../api/client';
import { Loaded } from '../parts/loaded.svelte';
import { handOver } from '../stand/handed';

export type Today = Schemas['TodayOut'];
export type DayBlock = Schemas['DayBlockOut'];
type Asked = Schemas['AskedIn'];
type Change = Schemas['ChangeIn'];

const LIPS: Asked['lips'][] = ['normal', 'tired', 'sore', 'fresh'];

/** The plan of the day, and what is done to it. */
export class Day {
  readonly plan: Loaded<Today>;
  /** The block that keys are about, counted from 0. */
  chosen = $state(0);
  /** Whether the facts behind each block are shown. */
  why = $state(false);
  refused = $state('');
  busy = $state(false);
  private readonly path: { player_id: number };

  constructor(player: Player) {
    this.path = { player_id: player.id };
    this.plan = new Loaded(() =>
      answer(api.GET('/api/players/{player_id}/today', { params: { path: this.path } })),
    );
    void this.plan.load();
  }

  get today(): Today | null {
    return this.plan.value;
  }

  get block(): DayBlock | null {
    return this.today?.blocks[this.chosen] ?? null;
  }

  choose(by: number): void {
    const last = (this.today?.blocks.length ?? 1) - 1;
    this.chosen = Math.min(Math.max(this.chosen + by, 0), last);
  }

  async ask(wanted: Partial<Asked>): Promise<void> {
    const { today } = this;
    if (!today) return;
    const { minutes, lips, quiet } = today;
    const body = { minutes, lips, quiet, ...wanted };
    await this.take(
      answer(api.PUT('/api/players/{player_id}/today', { params: { path: this.path }, body })),
    );
  }

  nextLips(): void {
    const at = LIPS.indexOf(this.today?.lips ?? 'normal');
    void this.ask({ lips: LIPS[(at + 1) % LIPS.length] });
  }

  async change(change: Change['change'], more: Partial<Change> = {}): Promise<void> {
    const body = { change, block: this.chosen, to: 0, by_min: 0, ...more };
    await this.take(
      answer(
        api.POST('/api/players/{player_id}/today/change', { params: { path: this.path }, body }),
      ),
    );
    this.choose(0);
  }

  async move(from: number, to: number): Promise<void> {
    const last = (this.today?.blocks.length ?? 1) - 1;
    if (to < 0 || to > last || from === to) return;
    this.chosen = from;
    await this.change('move', { to });
    if (!this.refused) this.chosen = to;
  }

  /** Hands the whole plan to the Stand. */
  start(): boolean {
    const { today } = this;
    if (!today?.blocks.length) return false;
    const exercises = today.blocks.map(({ exercise }) => exercise);
    handOver({ title: 'Today', exercises });
    return true;
  }

  private async take(coming: Promise<Today>): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    try {
      this.plan.value = await coming;
      this.refused = '';
    } catch (error) {
      this.refused = this.words(problemOf(error));
    } finally {
      this.busy = false;
    }
  }

  private words({ title, detail }: Problem): string {
    return `${title}. ${detail}`;
  }
}
