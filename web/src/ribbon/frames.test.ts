import { describe, expect, it } from 'vitest';
import { frameAt, placed, RibbonFrames } from './frames';

function filled(first: number, cents: (number | null)[]): RibbonFrames {
  const frames = new RibbonFrames();
  frames.put(
    first,
    cents,
    cents.map(() => -20),
    cents.map(() => 30),
  );
  return frames;
}

describe('frames by number', () => {
  it('overwrite themselves when they come again', () => {
    const frames = filled(100, [1, null, 3]);
    frames.put(101, [2, 3.5], [-10, -10], [30, 30]);
    expect([100, 101, 102].map((frame) => frames.centsAt(frame))).toEqual([1, 2, 3.5]);
    expect(frames.end).toBe(103);
  });

  it('have no pitch where none was heard, nor outside', () => {
    const frames = filled(100, [1, null]);
    expect(frames.centsAt(101)).toBeNaN();
    expect(frames.centsAt(99)).toBeNaN();
    expect(frames.levelAt(500)).toBeNaN();
  });

  it('from before the first are passed over', () => {
    const frames = filled(100, [1]);
    frames.put(50, [9], [9], [9]);
    expect(frames.end).toBe(101);
    expect(frames.centsAt(50)).toBeNaN();
  });

  it('tell where the sound ended', () => {
    expect(filled(10, [null, 1, 2, null, null]).lastVoiced(10, 15)).toBe(13);
    expect(filled(10, [null, null]).lastVoiced(10, 12)).toBe(10);
  });
});

it('puts marks on frames, counted from where their sound begins', () => {
  const mark = { at_s: 1.234, pitch_cents: 5, words: 'a', short: 'b', side: null, weight: 1 };
  expect(frameAt(1.234)).toBe(123);
  expect(placed([mark], 50)).toEqual([
    { frame: 173, pitch_cents: 5, words: 'a', short: 'b', side: null, weight: 1 },
  ]);
});
