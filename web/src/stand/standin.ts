import { answer, asSet, problemOf, SERVER_GONE } from '../api/client';
import type { Exercise } from './exercise';
import { known } from '../api/fields.svelte';

/** How well the stand-in plays: what can be set of it, which is also the query of its route. */
export type Skill = Record<string, number>;

/** How it plays until it is told otherwise. */
export function usualSkill(): Skill {
  return Object.fromEntries(
    known.fields.stand_in.map(({ key, usual }) => [key, Number(usual ?? 0)]),
  );
}

const MOST_KEPT = 8;

/** The stand-in player's sounds, kept so that it can go on playing while the server is gone. */
export class StandInSounds {
  private readonly kept = new Map<string, ArrayBuffer>();

  /** The sound of an exercise at one skill, or any that is here when the server is not. */
  fetch(playerId: number, exercise: Exercise, skill: Skill): Promise<ArrayBuffer> {
    const query = queryOf(skill);
    for (const one of asSet(exercise.values)) query.append('set', one);
    return this.load(`/api/players/${playerId}/book/${exercise.family}/stand-in?${query}`);
  }

  private async load(url: string): Promise<ArrayBuffer> {
    const played = this.kept.get(url);
    if (played) return played;
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

/** A skill as addresses have it. */
export function queryOf(skill: Skill): URLSearchParams {
  const named = Object.entries(skill).map(([name, value]) => [name, String(value)]);
  return new URLSearchParams(named);
}
