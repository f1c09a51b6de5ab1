import { answer, problemOf, SERVER_GONE } from '../api/client';

/** How well the stand-in plays: the query of its route. */
export interface Skill {
  centre_cents: number;
  scoop_cents: number;
  sag_cents: number;
  wobble_cents: number;
  vibrato_cents: number;
  breath_db: number;
  hold_s: number;
}

const MOST_KEPT = 8;

/** The stand-in player's sounds, kept so that it can go on playing while the server is gone. */
export class StandInSounds {
  private readonly kept = new Map<string, ArrayBuffer>();

  /** The sound of one note at one skill, or any that is here when the server is not. */
  async fetch(playerId: number, midi: number, skill: Skill): Promise<ArrayBuffer> {
    const query = new URLSearchParams({ midi: String(midi) });
    for (const [name, value] of Object.entries(skill)) query.set(name, String(value));
    const url = `/api/players/${playerId}/stand-in?${query}`;
    const known = this.kept.get(url);
    if (known) return known;
    try {
      const response = fetch(url);
      const sound = await answer(
        response.then(async (got) => ({ data: await got.arrayBuffer(), response: got })),
      );
      if (this.kept.size >= MOST_KEPT) this.kept.clear();
      this.kept.set(url, sound);
      return sound;
    } catch (error) {
      const any = [...this.kept.values()].at(-1);
      if (any && problemOf(error) === SERVER_GONE) return any;
      throw error;
    }
  }
}
