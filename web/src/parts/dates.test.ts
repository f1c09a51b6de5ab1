import { expect, it } from 'vitest';
import { dayOf, spanOf } from './dates';

const on = (...days: string[]) => days.map((day) => ({ on: day }));

it('a picture is a day wide at least', () => {
  const [first, last] = spanOf(on('2026-03-01'));
  expect(+last - +first).toBe(24 * 3600 * 1000);
  expect(spanOf(on('2026-03-01', '2026-03-05'))[1]).toEqual(dayOf('2026-03-05'));
});
