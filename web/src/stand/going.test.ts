import { expect, test } from 'vitest';
import type { Line, SessionTold } from '../audio/line';
import type { Hearing } from '../audio/hearing';
import { Going } from './going.svelte';

const RATE = 1000;
const line = { onClock: (sample: number) => sample + 50_000 } as unknown as Line;

function ear() {
  const sounded: unknown[] = [];
  let stopped = 0;
  const stop = () => {
    stopped++;
  };
  return {
    sounded,
    stopped: () => stopped,
    hearing: {
      sampleRate: RATE,
      click: (clicks: unknown) => {
        sounded.push(clicks);
        return stop;
      },
      sound: (hz: number, from: number, until: number) => {
        sounded.push([hz, from, until]);
        return stop;
      },
    } as unknown as Hearing,
  };
}

function told(now: object): SessionTold {
  const part = { beats: [], stretches: [], breathing: [], hear_hz: null, ...now };
  return { type: 'session', now: part, plan: null } as unknown as SessionTold;
}

const STRETCHES = [
  { phase: 'moment', start: 0, end: 1000 },
  { phase: 'breathe', start: 1000, end: 13_000 },
  { phase: 'ready', start: 13_000, end: null },
];

test('what goes on is the stretch that has not ended', () => {
  const going = new Going();
  going.follow(told({ stretches: STRETCHES }), line, ear().hearing);
  const phases = [0, 999, 1000, 12_999, 13_000, 90_000].map((sample) => {
    going.sample = sample;
    return going.stretch?.phase;
  });
  expect(phases).toEqual(['moment', 'moment', 'breathe', 'breathe', 'ready', 'ready']);
  expect(going.readyFrom).toBe(13_000);
});

test('how long is left is in seconds, and not known of what is open', () => {
  const going = new Going();
  going.follow(told({ stretches: STRETCHES }), line, ear().hearing);
  going.sample = 3500;
  expect(going.leftS).toBe(9.5);
  going.sample = 20_000;
  expect(going.leftS).toBeNull();
});

test('a paced breath is at the part it is time for', () => {
  const going = new Going();
  const breathing = [
    { seconds: 4, words: 'in', inward: true },
    { seconds: 8, words: 'out', inward: false },
  ];
  going.follow(told({ stretches: STRETCHES, breathing }), line, ear().hearing);
  // It begins with its own stretch, a second in.
  going.sample = 1000;
  expect(going.breath).toMatchObject({ words: 'in', share: 0 });
  going.sample = 4000;
  expect(going.breath).toMatchObject({ words: 'in', share: 0.75 });
  going.sample = 7000;
  expect(going.breath).toMatchObject({ words: 'out', share: 0.25 });
  going.sample = 13_000;
  expect(going.breath).toBeNull();
});

test('the beat is the last that sounded, for two seconds, parts of one left out', () => {
  const going = new Going();
  const beats = [
    { sample: 1000, click: 'first', words: '' },
    { sample: 1500, click: 'part', words: '' },
    { sample: 2000, click: 'beat', words: '' },
  ];
  going.follow(told({ beats }), line, ear().hearing);
  const at = [900, 1000, 1700, 2000, 3999, 4000].map((sample) => {
    going.sample = sample;
    return going.beat?.sample;
  });
  expect(at).toEqual([undefined, 1000, 1000, 2000, 2000, undefined]);
});

test("what sounds is put on the ear's clock, and stops when something else is told", () => {
  const going = new Going();
  const first = ear();
  const beats = [{ sample: 100, click: 'first', words: '' }];
  const stretches = [{ phase: 'hear', start: 500, end: 1500 }];
  going.follow(told({ beats, stretches, hear_hz: 220 }), line, first.hearing);
  expect(first.sounded).toEqual([[{ sample: 50_100, click: 'first' }], [220, 50_500, 51_500]]);
  going.follow(told({}), line, first.hearing);
  expect(first.stopped()).toBe(2);
  going.clear();
  expect(going.told).toBeNull();
});
