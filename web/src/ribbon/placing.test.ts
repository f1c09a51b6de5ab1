import { describe, expect, it } from 'vitest';
import { placeWords, type Placed, type Spot } from './placing';

const PHONE = { left: 58, width: 390, bottom: 300 };
const LAPTOP = { left: 84, width: 1000, bottom: 400 };
const widthOf = (text: string) => 8 * text.length;

function spots(count: number, step: number, x = 100): Spot[] {
  return Array.from({ length: count }, (_, i) => ({
    x: x + step * i,
    y: 150,
    cents: i % 2 ? 5 : -5,
    words: 'slid up 32 cents into the note',
    short: 'slid up 32',
  }));
}

function overlap(a: Placed<Spot>, b: Placed<Spot>): boolean {
  const apart = a.x + widthOf(a.text) <= b.x || b.x + widthOf(b.text) <= a.x;
  return !apart && Math.abs(a.y - b.y) < 20;
}

describe('the words of marks', () => {
  it('stand whole where there is room', () => {
    const { words, folds } = placeWords(spots(2, 400), LAPTOP, widthOf);
    expect(words.map(({ text }) => text)).toEqual(spots(2, 400).map(({ words }) => words));
    expect(folds).toEqual([]);
  });

  it.each([
    ['a phone', PHONE, 6, 40, false],
    ['a phone, all at once', PHONE, 24, 0, true],
    ['a long recording', LAPTOP, 120, 7, true],
  ])('never lie over each other on %s', (_, room, count, step, crowded) => {
    const { words, folds } = placeWords(spots(count, step), room, widthOf);
    for (const [i, one] of words.entries()) {
      for (const other of words.slice(i + 1)) expect(overlap(one, other)).toBe(false);
      expect(one.x + widthOf(one.text)).toBeLessThanOrEqual(room.width);
    }
    // None is lost: what has no words is counted.
    const folded = folds.reduce((sum, { count }) => sum + count, 0);
    expect(words.length + folded).toBe(count);
    expect(folded > 0).toBe(crowded);
  });

  it('are shortened before they are folded', () => {
    const { words } = placeWords(spots(14, 20), PHONE, widthOf);
    expect(words.some(({ text }) => text === 'slid up 32')).toBe(true);
  });

  it('lie outside of the sound', () => {
    const sound = { left: 90, right: 700, y: 150, half: 40 };
    const { words } = placeWords(spots(2, 400), LAPTOP, widthOf, [sound]);
    expect(words).toHaveLength(2);
    for (const { y } of words) expect(Math.abs(y - sound.y)).toBeGreaterThanOrEqual(50);
  });

  it('keep to the side their mark went to', () => {
    const { words } = placeWords(spots(2, 400), LAPTOP, widthOf);
    expect(words.map(({ mark, y }) => Math.sign(y - mark.y))).toEqual([1, -1]);
  });
});
