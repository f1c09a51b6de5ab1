import { answer, api, type Schemas } from '../api/client';

export type Offered = Schemas['OfferedOut'];
export type Open = Schemas['OpenOut'];
export type SessionExercise = Schemas['ExerciseIn'];

export function offeredTo(player_id: number, quiet: boolean): Promise<Offered[]> {
  const params = { path: { player_id }, query: { quiet } };
  return answer(api.GET('/api/players/{player_id}/sessions/offered', { params }));
}

/** The session that can be gone on with, if there is one. */
export async function openOf(player_id: number): Promise<Open | null> {
  const params = { path: { player_id } };
  return (await answer(api.GET('/api/players/{player_id}/sessions/open', { params }))) ?? null;
}

export function leaveOpen(session_id: string): Promise<unknown> {
  return answer(api.DELETE('/api/sessions/{session_id}', { params: { path: { session_id } } }));
}

const LIVE_KEY = 'orexis-live-session';

/** Which session this window is in: one that it goes on with by itself after a reload. */
export const live = {
  get: (): string | null => sessionStorage.getItem(LIVE_KEY),
  set: (id: string): void => sessionStorage.setItem(LIVE_KEY, id),
  clear: (): void => sessionStorage.removeItem(LIVE_KEY),
};

/** How many times as fast the stand-in player's clock runs; 1 but for trying things out. */
export function clockSpeed(): number {
  return Number(localStorage.getItem('orexis-clock') ?? 1) || 1;
}

const LATENCY_KEY = 'orexis-latency';

/** The measured round trip (s) of an input, kept in this browser; null where it was not measured. */
export function latencyOf(inputId: string): number | null {
  const kept = JSON.parse(localStorage.getItem(LATENCY_KEY) ?? '{}') as Record<string, number>;
  return kept[inputId || 'usual'] ?? null;
}

export function keepLatency(inputId: string, seconds: number): void {
  const kept = JSON.parse(localStorage.getItem(LATENCY_KEY) ?? '{}') as Record<string, number>;
  localStorage.setItem(LATENCY_KEY, JSON.stringify({ ...kept, [inputId || 'usual']: seconds }));
}
