import { expect, test } from 'vitest';
import { Listening } from './listening.svelte';
import type { KeptAt } from './kept';

const kept = { kind: 'take', id: 'a' } as unknown as KeptAt;

/** Twelve seconds of sound whose clock a test turns. */
function opened(durationS = 12, startS = 0) {
  const audio = { currentTime: startS, paused: true } as unknown as HTMLAudioElement;
  const listening = new Listening(kept, durationS, [], false, startS);
  listening.audio = audio;
  const at = (seconds: number) => {
    audio.currentTime = seconds;
    listening.follow();
    return listening.cursorS;
  };
  return { listening, audio, at };
}

test('a loop goes from its end to its start, and not to the start of the sound', () => {
  const { listening, at } = opened();
  at(3);
  listening.setLoop();
  expect(listening.loop).toEqual({ startS: 3, endS: null });
  at(5);
  listening.setLoop();
  expect(listening.loop).toEqual({ startS: 3, endS: 5 });
  expect(at(4.9)).toBe(4.9);
  expect(at(5)).toBe(3);
  listening.setLoop();
  expect(listening.loop).toBeNull();
  expect(at(6)).toBe(6);
});

test('a loop that would end where it begins, or before, is none', () => {
  const { listening, at } = opened();
  at(3);
  listening.setLoop();
  at(3.05);
  listening.setLoop();
  expect(listening.loop).toBeNull();
});

test('one never leaves the sound', () => {
  const { listening, audio } = opened();
  listening.seek(-4);
  expect(audio.currentTime).toBe(0);
  listening.seek(99);
  expect(audio.currentTime).toBe(12);
});

test('the next spot is a bookmark or a mark, past where one is', () => {
  const { listening, at } = opened();
  listening.bookmarks = [{ id: 1, at_s: 6, words: '', author: null }] as never;
  const marks = [{ at_s: 2 }, { at_s: 9 }];
  at(2);
  listening.jump(1, marks);
  expect(listening.cursorS).toBe(6);
  listening.jump(1, marks);
  expect(listening.cursorS).toBe(9);
  listening.jump(1, marks);
  expect(listening.cursorS).toBe(9);
  listening.jump(-1, marks);
  expect(listening.cursorS).toBe(6);
});

test('a long sound starts zoomed in, and its view turns like a page', () => {
  const { listening, at } = opened(100);
  // 100, 50, 25: the first that is not wider than 30 s.
  expect(listening.windowS).toBe(25);
  at(20);
  expect(listening.fromS).toBe(0);
  at(24);
  expect(listening.fromS).toBeCloseTo(24 - 2.5);
});

test('pauses are passed over only where that is asked for, and their ends are heard', () => {
  const audio = { currentTime: 0, paused: false } as unknown as HTMLAudioElement;
  const pauses = [
    { start_s: 0, end_s: 2 },
    { start_s: 5, end_s: 9.5 },
  ];
  const listening = new Listening(kept, 12, [], false, 0, pauses, '6 s');
  listening.audio = audio;
  const at = (seconds: number) => {
    audio.currentTime = seconds;
    listening.follow();
    return audio.currentTime;
  };
  const skip = () => listening.actions([]).find(({ keys }) => keys.includes('j'));
  expect(at(6)).toBe(6);
  expect(skip()?.label).toBe('skip pauses (6 s)');
  skip()?.run();
  expect(skip()?.label).toBe('play pauses too');
  expect([at(0), at(3), at(4.9), at(5), at(7), at(9.5), at(11)]).toEqual([
    2, 3, 4.9, 9.5, 9.5, 9.5, 11,
  ]);
});

test('where there are none, nothing is offered', () => {
  const { listening } = opened();
  expect(listening.actions([]).some(({ keys }) => keys.includes('j'))).toBe(false);
});
