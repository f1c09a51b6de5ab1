import { expect, it } from 'vitest';
import { startOf } from './kept';

it('opens a sound where its address says, else at its beginning', () => {
  expect(startOf('at=2.5')).toBe(2.5);
  expect(startOf('other=1&at=0')).toBe(0);
  expect(startOf('at=-3')).toBe(0);
  expect(startOf('at=soon')).toBe(0);
  expect(startOf('')).toBe(0);
  expect(startOf(undefined)).toBe(0);
});
