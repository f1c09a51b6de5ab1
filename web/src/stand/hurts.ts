import { answer, api } from '../api/client';

/** Whether something hurt that the player has not cleared. */
export async function hurtsOf(player_id: number): Promise<boolean> {
  const params = { path: { player_id } };
  const found = await answer(api.GET('/api/players/{player_id}/hurts', { params })).catch(() => []);
  return found.length > 0;
}

export function reportHurt(player_id: number): Promise<unknown> {
  const params = { path: { player_id } };
  return answer(api.POST('/api/players/{player_id}/hurts', { params })).catch(() => undefined);
}

export function clearHurts(player_id: number): Promise<unknown> {
  const params = { path: { player_id } };
  return answer(api.DELETE('/api/players/{player_id}/hurts', { params }));
}
