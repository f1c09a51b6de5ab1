import { answer, api, type Player } from '../api/client';
import { keepOnly } from './kept';

const KEY = 'orexis-player';

/** Who plays in this window. */
class Who {
  players = $state<Player[]>([]);
  loaded = $state(false);
  private chosen = $state(Number(localStorage.getItem(KEY)) || 0);

  get player(): Player | null {
    return this.players.find((player) => player.id === this.chosen) ?? null;
  }

  /** The player; views that need one are only shown when there is one. */
  get current(): Player {
    if (!this.player) throw new Error('Nobody has been chosen to play.');
    return this.player;
  }

  /** Fetches the players. Throws `ProblemError`. */
  async load(): Promise<void> {
    this.players = await answer(api.GET('/api/players'));
    this.loaded = true;
    void this.forgetTheGone();
  }

  /** Drops what this browser keeps of players who cannot be brought back any more. */
  private async forgetTheGone(): Promise<void> {
    try {
      const deleted = await answer(api.GET('/api/players/deleted'));
      keepOnly([...this.players, ...deleted].map(({ id }) => id));
    } catch {
      // It is dropped when the server answers again.
    }
  }

  choose(id: number): void {
    this.chosen = id;
    localStorage.setItem(KEY, String(id));
  }

  /** Takes a player who was deleted off the list. */
  drop(id: number): void {
    this.players = this.players.filter((player) => player.id !== id);
  }

  /** Puts a new or changed player in the list. */
  put(player: Player): void {
    const known = this.players.some(({ id }) => id === player.id);
    this.players = known
      ? this.players.map((other) => (other.id === player.id ? player : other))
      : [...this.players, player];
  }
}

export const who = new Who();
