import { describe, expect, it } from 'vitest';
import { bySession, type SessionLine } from './sessions';

const line = (id: string): SessionLine => ({
  id,
  title: id,
  started_at: '2026-05-04T18:00:00Z',
  ended: 'done',
  results: [],
  note: '',
  has_memo: false,
});

describe('takes by session', () => {
  it('puts what follows each other in one session together, and leaves the rest as it is', () => {
    const entries = ['a', 'a', 'free', 'other', null, 'b', 'a'].map((session_id, id) => ({
      id,
      session_id,
    }));
    const runs = bySession(entries, [line('a'), line('b')]);
    expect(runs.map(({ session, entries }) => [session?.id, entries.length])).toEqual([
      ['a', 2],
      [undefined, 3],
      ['b', 1],
      ['a', 1],
    ]);
  });
});
