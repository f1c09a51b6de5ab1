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

test('nothing at all for two seconds is told, and that there is something again', () => {
  vi.useFakeTimers({ now: 1000 });
  const told: boolean[] = [];
  const metering = new Metering(
    () => undefined,
    (mute) => told.push(mute),
  );
  metering.put(0);
  vi.advanceTimersByTime(1900);
  metering.put(0.00003);
  expect(told).toEqual([]);
  vi.advanceTimersByTime(100);
  metering.put(0);
  expect(told).toEqual([true]);
  metering.put(0.001);
  expect(told).toEqual([true, false]);
  // A room between two notes is no silence.
  for (let i = 0; i < 5; i++) {
    vi.advanceTimersByTime(1000);
    metering.put(0.0004);
  }
  expect(told).toEqual([true, false]);
  vi.useRealTimers();
});
