import { answer, api, problemWords, type Player, type Schemas } from '../api/client';
import { known } from '../api/fields.svelte';
import { InTurn } from '../parts/inturn';
import { Loaded } from '../parts/loaded.svelte';
import { handOver } from '../stand/handed';

export type Today = Schemas['TodayOut'];
export type DayBlock = Schemas['DayBlockOut'];
type PlanRequest = Schemas['PlanRequestIn'];
type Change = Schemas['ChangeIn'];

/** The plan of the day, and what is done to it. */
export class Day {
  readonly plan: Loaded<Today>;
  /** The block that keys are about, counted from 0. */
  chosen = $state(0);
  /** Whether the facts behind each block are shown. */
  why = $state(false);
  refused = $state('');
  private readonly turns = new InTurn();
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

  /** Makes the plan anew for what is wanted of it, told from what it is for now. */
  ask(wanted: (today: Today) => Partial<PlanRequest>): Promise<void> {
    return this.take((today) => {
      const { minutes, lips, quiet } = today;
      const body = { minutes, lips, quiet, ...wanted(today) };
      return api.PUT('/api/players/{player_id}/today', { params: { path: this.path }, body });
    });
  }

  nextLips(): void {
    const choices =
      known.fields.today.lips?.choices.map(({ value }) => value as PlanRequest['lips']) ?? [];
    void this.ask(({ lips }) => ({ lips: choices[(choices.indexOf(lips) + 1) % choices.length] }));
  }

  async change(change: Change['change'], more: Partial<Change> = {}): Promise<void> {
    const body = { change, block: this.chosen, to: 0, by_min: 0, ...more };
    await this.take(() =>
      api.POST('/api/players/{player_id}/today/change', { params: { path: this.path }, body }),
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
    handOver({ title: today.title, kind: today.kind, exercises });
    return true;
  }

  /** One after the other, however quickly they are asked for. */
  private take(asking: (today: Today) => Parameters<typeof answer<Today>>[0]): Promise<void> {
    return this.turns.run(async () => {
      const { today } = this;
      if (!today) return;
      try {
        this.plan.value = await answer(asking(today));
        this.refused = '';
      } catch (error) {
        this.refused = problemWords(error);
      }
    });
  }
}
