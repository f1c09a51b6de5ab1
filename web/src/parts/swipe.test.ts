import { expect, it } from 'vitest';
import { swipeOf } from './swipe';

const from = { x: 200, y: 400, at: 1000 };

it.each([
  ['left', { x: 100, y: 410, at: 1200 }, 'left'],
  ['right', { x: 290, y: 380, at: 1300 }, 'right'],
  ['a short move', { x: 150, y: 400, at: 1200 }, null],
  ['scrolling', { x: 120, y: 300, at: 1200 }, null],
  ['a slow drag', { x: 60, y: 400, at: 2000 }, null],
])('tells a swipe from what is none: %s', (_, to, way) => {
  expect(swipeOf(from, to)).toBe(way);
});
