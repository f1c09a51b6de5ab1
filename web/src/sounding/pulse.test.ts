import { expect, test } from 'vitest';
import { Taps } from './pulse';

test('two taps half a second apart are a tempo of 120', () => {
  const taps = new Taps();
  expect(taps.tap(1000)).toBeNull();
  expect(taps.tap(1500)).toBe(120);
});

test('the last five taps count, so that a new tempo is soon there', () => {
  const taps = new Taps();
  for (const at of [0, 1000, 2000]) taps.tap(at);
  let bpm: number | null = null;
  for (const at of [2500, 3000, 3500, 4000]) bpm = taps.tap(at);
  expect(bpm).toBe(120);
});

test('after a pause tapping begins anew', () => {
  const taps = new Taps();
  taps.tap(0);
  expect(taps.tap(10_000)).toBeNull();
  expect(taps.tap(10_600)).toBe(100);
});
