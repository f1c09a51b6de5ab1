import { answer, api, type PieceOver } from '../api/client';
import { Loaded } from '../parts/loaded.svelte';
import { complain } from '../takes/deletion';

/** A piece of the player's own over all the times it was played. */
export class AllTimes {
  private readonly loaded: Loaded<PieceOver>;

  /** `ownId` is none where it is no piece that is kept. */
  constructor(
    private readonly playerId: number,
    private readonly ownId: string | undefined,
  ) {
    this.loaded = new Loaded((signal) =>
      answer(
        api.GET('/api/players/{player_id}/own/{own_id}/times', {
          params: { path: { player_id: playerId, own_id: ownId ?? '' } },
          signal,
        }),
      ),
    );
  }

  /** In how many recordings and attempts it was played. */
  get count(): number {
    const { value } = this.loaded;
    return value ? value.recordings.length + value.on_the_stand : 0;
  }

  /** What is told of them, where there are any. */
  get told(): PieceOver | null {
    return this.count ? this.loaded.value : null;
  }

  async load(): Promise<void> {
    if (this.ownId) await this.loaded.load();
  }

  /** Takes a recording out: it was another piece. */
  async takeOut(recordingId: string): Promise<void> {
    const path = { player_id: this.playerId, own_id: this.ownId ?? '', kept_id: recordingId };
    try {
      await answer(
        api.DELETE('/api/players/{player_id}/own/{own_id}/times/{kept_id}', { params: { path } }),
      );
      await this.load();
    } catch (error) {
      complain(error);
    }
  }
}
