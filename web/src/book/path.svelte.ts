import { answer, api, type ExercisePath } from '../api/client';
import type { Action } from '../parts/keys.svelte';
import { Loaded } from '../parts/loaded.svelte';
import { complain } from '../takes/deletion';

type Values = Record<string, string>;

/** The path of an exercise: where the player is on it, and going to another step by hand. */
export class OpenPath {
  private readonly loaded = new Loaded<ExercisePath>((signal) =>
    answer(api.GET('/api/players/{player_id}/paths/{family}', { params: this.params, signal })),
  );
  private readonly params: { path: { player_id: number; family: string } };
  /** What came of the last move. */
  private moved = $state.raw<ExercisePath | null>(null);

  constructor(playerId: number, family: string) {
    this.params = { path: { player_id: playerId, family } };
  }

  load(): Promise<boolean> {
    return this.loaded.load();
  }

  /** The path; nothing where the exercise has none, or until it is there. */
  get value(): ExercisePath | null {
    const path = this.moved ?? this.loaded.value;
    return path?.steps.length ? path : null;
  }

  /** The values of the step the player is at. */
  get values(): Values {
    const path = this.value;
    return path?.steps[path.at]?.values ?? {};
  }

  canGo(by: number): boolean {
    const path = this.value;
    return path?.steps[path.at + by] !== undefined;
  }

  /** Goes so many steps on (or back), one move after the other. */
  go(by: number): Promise<void> {
    this.moving = this.moving.then(() => this.move(by));
    return this.moving;
  }

  private moving: Promise<void> = Promise.resolve();

  private async move(by: number): Promise<void> {
    const path = this.value;
    if (!path || !this.canGo(by)) return;
    try {
      this.moved = await answer(
        api.PUT('/api/players/{player_id}/paths/{family}', {
          params: this.params,
          body: { step: path.at + by },
        }),
      );
    } catch (error) {
      complain(error);
    }
  }

  /** What can be done with it; `onset` takes the values of the present step. */
  actions(onset: (values: Values) => void): Action[] {
    if (!this.value) return [];
    return [
      {
        keys: ['p'],
        shown: 'P',
        label: 'set it to your step',
        run: () => onset(this.values),
        quiet: true,
      },
      {
        keys: ['<'],
        shown: '<',
        label: 'one step back',
        run: () => void this.go(-1),
        disabled: !this.canGo(-1),
        quiet: true,
      },
      {
        keys: ['>'],
        shown: '>',
        label: 'one step on',
        run: () => void this.go(1),
        disabled: !this.canGo(1),
        quiet: true,
      },
    ];
  }
}
