import { expect, test, vi } from 'vitest';
import { Metering } from './metering';

test('the loudest since it was told last is told, not too often', () => {
  vi.useFakeTimers({ now: 1000 });
  const peaks: number[] = [];
  const metering = new Metering((peak) => peaks.push(peak));
  metering.put(0.1);
  metering.put(0.9);
  metering.put(0.2);
  expect(peaks).toEqual([0.1]);
  vi.advanceTimersByTime(50);
  metering.put(0.3);
  expect(peaks).toEqual([0.1, 0.9]);
  vi.advanceTimersByTime(50);
  metering.put(0.4);
  expect(peaks).toEqual([0.1, 0.9, 0.4]);
  vi.useRealTimers();
});
