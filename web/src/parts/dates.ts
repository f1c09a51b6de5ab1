/** Days as they are written in pictures and tables. */

/** Noon of a day: the same day in every zone a browser may be in. */
export const dayOf = (on: string) => new Date(`${on}T12:00`);

export const shortDay = (day: Date) =>
  day.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });

/** As in a sentence: 4 December. */
export const longDay = (day: Date) =>
  day.toLocaleDateString('en-GB', { day: 'numeric', month: 'long' });

/** With its year, where it stands by itself: 4 December 2026. */
export const fullDay = (day: Date) =>
  day.toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });

const DAY_MS = 864e5;

/** From the first day to the last; a day at least. */
export function spanOf(days: { on: string }[]): [Date, Date] {
  const first = dayOf(days[0]?.on ?? '2026-01-01');
  const last = dayOf(days.at(-1)?.on ?? '2026-01-01');
  return [first, +last > +first ? last : new Date(+first + DAY_MS)];
}
