import { expect, test } from 'vitest';
import { tickLabel, tickStep } from './ticks';

test('ticks stand 40 pixels apart and more', () => {
  expect(tickStep(50)).toBe(1);
  expect(tickStep(20)).toBe(2);
  expect(tickStep(9)).toBe(5);
  expect(tickStep(0.4)).toBe(120);
  expect(tickStep(0.01)).toBe(600);
});

test('a short sound counts in seconds, a longer one in minutes and seconds', () => {
  expect(tickLabel(90, 120)).toBe('90 s');
  expect(tickLabel(90, 121)).toBe('1:30');
  expect(tickLabel(5, 3600)).toBe('0:05');
  expect(tickLabel(3600, 3600)).toBe('60:00');
});
