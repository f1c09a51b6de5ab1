import { describe, expect, it } from 'vitest';
import { iso, monthOf, monthsOn, moved, readDay, weeksOf } from './calendar';

describe('a calendar', () => {
  it('has weeks from Monday to Sunday, with nothing of other months', () => {
    // March 2026 begins on a Sunday and ends on a Tuesday.
    const weeks = weeksOf('2026-03-01');
    expect(weeks).toHaveLength(6);
    expect(weeks[0]).toEqual([null, null, null, null, null, null, '2026-03-01']);
    expect(weeks[5]?.slice(0, 3)).toEqual(['2026-03-30', '2026-03-31', null]);
    expect(weeks.flat().filter(Boolean)).toHaveLength(31);
    expect(weeksOf('2024-02-01').flat().filter(Boolean)).toHaveLength(29);
  });

  it('moves over the ends of months and years, and where clocks are put forward', () => {
    expect(moved('2026-02-28', 1)).toBe('2026-03-01');
    expect(moved('2026-01-01', -1)).toBe('2025-12-31');
    expect(moved('2026-03-28', 7)).toBe('2026-04-04');
  });

  it('goes to the same day of another month, or its last', () => {
    expect(monthsOn('2026-03-31', -1)).toBe('2026-02-28');
    expect(monthsOn('2026-12-15', 1)).toBe('2027-01-15');
    expect(monthOf('2026-03-31')).toBe('2026-03-01');
    expect(iso(new Date(2026, 0, 5, 23, 59))).toBe('2026-01-05');
  });
});

it.each(['2026-12-04', '4.12.2026', '04/12/2026', '4 December 2026', ' 4 dec 2026'])(
  'a day typed as %s is read',
  (typed) => expect(readDay(typed)).toBe('2026-12-04'),
);

it.each(['', 'tomorrow', '31.2.2026', '4.13.2026', '4 De 2026', '4.12.26', '2026-12'])(
  '%s is no day',
  (typed) => expect(readDay(typed)).toBeUndefined(),
);
