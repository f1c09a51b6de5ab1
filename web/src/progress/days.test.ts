import { expect, it } from 'vitest';
import { breaks, dayOf, spanOf } from './days';

const on = (...days: string[]) => days.map((day) => ({ on: day }));

it('a week and more without practice is a break, a day less is none', () => {
  expect(breaks(on('2026-03-01', '2026-03-08', '2026-03-16', '2026-03-17'))).toEqual([
    [dayOf('2026-03-08'), dayOf('2026-03-16')],
  ]);
  expect(breaks([])).toEqual([]);
});

it('a picture is a day wide at least', () => {
  const [first, last] = spanOf(on('2026-03-01'));
  expect(+last - +first).toBe(24 * 3600 * 1000);
  expect(spanOf(on('2026-03-01', '2026-03-05'))[1]).toEqual(dayOf('2026-03-05'));
});
