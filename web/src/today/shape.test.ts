import { describe, expect, it } from 'vitest';
import { pieces } from './shape';

describe('the picture of a day', () => {
  const parts = [
    { minutes: 2, weight: 0 },
    { minutes: 6, weight: 1 },
    { minutes: 2, weight: 0.5 },
  ];

  it('is as wide as the day is long', () => {
    const found = pieces(parts, 106, 100);
    // Two gaps of 3 leave 100 for ten minutes.
    expect(found.map(({ width }) => width)).toEqual([20, 60, 20]);
    expect(found.map(({ x }) => x)).toEqual([0, 23, 86]);
  });

  it('is highest where it is hardest', () => {
    const [, hardest] = pieces(parts, 106, 100);
    expect(hardest?.path).toContain(' 0L');
    expect(hardest?.path).toContain(' 100L');
  });

  it('stands where nothing is planned', () => {
    expect(pieces([], 100, 100)).toEqual([]);
  });
});
