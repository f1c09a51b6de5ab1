/** Days as they are written in pictures and tables. */

/** Noon of a day: the same day in every zone a browser may be in. */
export const dayOf = (on: string) => new Date(`${on}T12:00`);

export const shortDay = (day: Date) =>
  day.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });

const DAY_MS = 864e5;

/** From the first day to the last; a day at least. */
export function spanOf(days: { on: string }[]): [Date, Date] {
  const first = dayOf(days[0]?.on ?? '2026-01-01');
  const last = dayOf(days.at(-1)?.on ?? '2026-01-01');
  return [first, +last > +first ? last : new Date(+first + DAY_MS)];
}

/** The stretches of at least a week between days of practice, which a picture shows as empty. */
export function breaks(days: { on: string }[]): [Date, Date][] {
  const found: [Date, Date][] = [];
  days.forEach(({ on }, i) => {
    const next = days[i + 1];
    if (next && +dayOf(next.on) - +dayOf(on) > 7.5 * DAY_MS)
      found.push([dayOf(on), dayOf(next.on)]);
  });
  return found;
}
