import { answer, api } from '../api/client';

/** Whether something hurt that the player has not cleared. */
export async function hurtsOf(player_id: number): Promise<boolean> {
  const params = { path: { player_id } };
  const found = await answer(api.GET('/api/players/{player_id}/hurts', { params })).catch(() => []);
  return found.length > 0;
}

/** What is on its way to being kept: a plan that is read meanwhile would not know of it. */
let reported: Promise<unknown> = Promise.resolve();

export function reportHurt(player_id: number): Promise<unknown> {
  const params = { path: { player_id } };
  reported = answer(api.POST('/api/players/{player_id}/hurts', { params })).catch(() => undefined);
  return reported;
}

/** Waits until what was said to hurt is kept. */
export function hurtKept(): Promise<unknown> {
  return reported;
}

export function clearHurts(player_id: number): Promise<unknown> {
  const params = { path: { player_id } };
  return answer(api.DELETE('/api/players/{player_id}/hurts', { params }));
}
