import { answer, api, type Schemas } from '../api/client';

export type SessionLine = Schemas['SessionLine'];

export function sessionsOf(player_id: number): Promise<SessionLine[]> {
  const params = { path: { player_id } };
  return answer(api.GET('/api/players/{player_id}/sessions', { params }));
}

export interface Run<T> {
  session: SessionLine | null;
  entries: T[];
}

/** Entries in their order, those of one whole session together. */
export function bySession<T extends { session_id: string | null }>(
  entries: T[],
  sessions: SessionLine[],
): Run<T>[] {
  const known = new Map(sessions.map((one) => [one.id, one]));
  const runs: Run<T>[] = [];
  for (const entry of entries) {
    const session = known.get(entry.session_id ?? '') ?? null;
    if (!runs.length || runs.at(-1)?.session !== session) runs.push({ session, entries: [] });
    runs.at(-1)?.entries.push(entry);
  }
  return runs;
}
