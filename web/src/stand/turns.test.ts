import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import type { Hearing } from '../audio/hearing';
import type { Line, SessionTold } from '../audio/line';
import { StandInTurns } from './turns';

/** A session that listens from a sample on, and an ear that notes what is played into it. */
const session = { session: 'ab', onClock: (sample: number) => sample + 7 } as unknown as Line;
const told = (start: number, more = {}) =>
  ({
    now: { paused: false, ended: null, beats: [], stretches: [{ phase: 'ready', start }], ...more },
  }) as unknown as SessionTold;

let played: number[];
let ear: Hearing;
const sound = () => Promise.resolve(new Response(new ArrayBuffer(4)));
const gone = () => Promise.reject(new TypeError('gone'));

beforeEach(() => {
  played = [];
  ear = {
    sampleRate: 1000,
    hush: () => played.push(-1),
    play: (_: ArrayBuffer, at: number) => {
      played.push(at);
      return Promise.resolve(true);
    },
  } as unknown as Hearing;
});

afterEach(() => vi.unstubAllGlobals());

it('plays a turn once, a breath after the session listens', async () => {
  const turns = new StandInTurns();
  vi.stubGlobal('fetch', vi.fn(sound));
  await turns.play(told(100), session, ear, {}, () => 100);
  await turns.play(told(100), session, ear, {}, () => 100);
  // 0.9 s of breath at 1000 a second, on a clock that is 7 ahead.
  expect(played).toEqual([1007]);
  await turns.play(told(5000), session, ear, {}, () => 5000);
  expect(played).toEqual([1007, 5907]);
});

it('plays what it could not fetch once it is told again', async () => {
  const turns = new StandInTurns();
  vi.stubGlobal('fetch', vi.fn(gone));
  await expect(turns.play(told(100), session, ear, {}, () => 100)).rejects.toThrow();
  expect(turns.fetching).toBe(false);
  vi.stubGlobal('fetch', vi.fn(sound));
  await turns.play(told(100), session, ear, {}, () => 100);
  expect(played).toEqual([1007]);
});

it('does not play into what has gone on meanwhile, nor into a pause', async () => {
  const turns = new StandInTurns();
  vi.stubGlobal('fetch', vi.fn(sound));
  await turns.play(told(100), session, ear, {}, () => 900);
  expect(played).toEqual([]);
  await turns.play(told(200, { paused: true }), session, ear, {}, () => 200);
  expect(played).toEqual([-1]);
});
