import {
  answer,
  api,
  asSet,
  type ExercisePage,
  type OwnExercise,
  type PlaceTold,
} from '../api/client';
import { ownExercises } from '../book/own';
import { complain } from '../takes/deletion';

/** One of the player's own pieces that is followed while they play freely. */
export class FollowedPiece {
  /** Those there are to choose from. */
  all = $state.raw<OwnExercise[]>([]);
  own = $state.raw<OwnExercise | null>(null);
  page = $state.raw<ExercisePage | null>(null);
  /** Where one is in it; null until it is heard. */
  place = $state.raw<PlaceTold | null>(null);

  constructor(
    private readonly playerId: number,
    /** Is told which one is followed from now on. */
    private readonly onopen: (ownId: string | null) => void,
  ) {
    void this.load();
  }

  private async load(): Promise<void> {
    try {
      const all = await ownExercises(this.playerId);
      this.all = all.filter(({ refused }) => !refused);
    } catch (error) {
      complain(error);
    }
  }

  /** What it is followed against is what is heard from now on. */
  beginAnew(): void {
    this.place = null;
  }

  async choose(own: OwnExercise | null): Promise<void> {
    this.own = own;
    this.page = this.place = null;
    this.onopen(own?.id ?? null);
    if (!own) return;
    try {
      const page = await answer(
        api.GET('/api/players/{player_id}/book/{family}', {
          params: {
            path: { player_id: this.playerId, family: own.family },
            query: { set: asSet(own.values) },
          },
        }),
      );
      if (this.own === own) this.page = page;
    } catch (error) {
      if (this.own === own) this.own = null;
      complain(error);
    }
  }

  /** The next one there is, then none. */
  next(): void {
    const at = this.all.findIndex(({ id }) => id === this.own?.id);
    void this.choose(this.all[at + 1] ?? null);
  }

  /** Chooses the one that an address names, once they are there. */
  async chooseById(ownId: string): Promise<void> {
    if (!this.all.length) await this.load();
    const own = this.all.find(({ id }) => id === ownId);
    if (own) await this.choose(own);
  }
}
