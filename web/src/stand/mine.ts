import type { Schemas } from '../api/client';

export type Exercise = Schemas['ExerciseOut'];

const keyOf = (playerId: number) => `orexis-my-session-${playerId}`;

/** The session that a player has put together, kept in this browser. */
export function mineOf(playerId: number): Exercise[] {
  try {
    return JSON.parse(localStorage.getItem(keyOf(playerId)) ?? '[]') as Exercise[];
  } catch {
    return [];
  }
}

export function keepMine(playerId: number, exercises: Exercise[]): void {
  localStorage.setItem(keyOf(playerId), JSON.stringify(exercises));
}

/** What is set of a session's way that is not as usual, as text. */
export function unusual(
  fields: Schemas['FieldOut'][],
  way: Record<string, unknown>,
): Record<string, string> {
  return Object.fromEntries(
    fields.flatMap(({ key, usual }) => {
      const set = way[key];
      const same = set === undefined || set === null || String(set) === String(usual);
      return same ? [] : [[key, String(set)]];
    }),
  );
}
