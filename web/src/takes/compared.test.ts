import { expect, test, vi } from 'vitest';
import { RibbonFrames } from '../ribbon/frames';
import { framesLaid, laid } from './compared.svelte';

vi.mock('svelte-spa-router', () => ({ push: () => Promise.resolve() }));

// The first second is played twice as slowly there.
const AT_S = [0, 1, 3];
const OTHER_S = [0.5, 2.5, 4.5];

test('a moment lies between those around it, and not beyond the ends', () => {
  expect(laid(0.5, AT_S, OTHER_S)).toBe(1.5);
  expect(laid(2, AT_S, OTHER_S)).toBe(3.5);
  expect(laid(1.5, OTHER_S, AT_S)).toBe(0.5);
  expect(laid(0.1, OTHER_S, AT_S)).toBe(0);
  expect(laid(9, AT_S, OTHER_S)).toBe(4.5);
});

test('what stands still there takes no time here', () => {
  expect(laid(2, [0, 2, 2, 4], [0, 1, 3, 5])).toBe(1);
});

test('the frames of the other come where the same is played', () => {
  const other = new RibbonFrames();
  const there = Array.from({ length: 450 }, (_, frame) => (frame < 250 ? 6000 : 6200));
  other.put(0, there, there, there);
  const frames = framesLaid(other, { at_s: AT_S, other_s: OTHER_S }, 300);
  expect(frames.end).toBe(300);
  expect(frames.centsAt(99)).toBe(6000);
  expect(frames.centsAt(100)).toBe(6200);
  expect(frames.centsAt(299)).toBe(6200);
});
