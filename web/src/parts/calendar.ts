/** Days and months as a calendar lays them out; a day is `YYYY-MM-DD`, a month its first day. */
import {
  CalendarDate,
  endOfMonth,
  fromDate,
  getDayOfWeek,
  getLocalTimeZone,
  parseDate,
  startOfMonth,
  toCalendarDate,
} from '@internationalized/date';

/** Its weeks begin on Monday. */
const LOCALE = 'en-GB';

export function iso(day: Date): string {
  return toCalendarDate(fromDate(day, getLocalTimeZone())).toString();
}

export function moved(on: string, days: number): string {
  return parseDate(on).add({ days }).toString();
}

export function monthOf(on: string): string {
  return startOfMonth(parseDate(on)).toString();
}

/** The same day some months on, or the last that month has. */
export function monthsOn(on: string, months: number): string {
  return parseDate(on).add({ months }).toString();
}

/** The weeks of a month from Monday to Sunday; null where a day is of another month. */
export function weeksOf(first: string): (string | null)[][] {
  const day = parseDate(first);
  const cells = [
    ...Array<null>(getDayOfWeek(day, LOCALE)).fill(null),
    ...Array.from({ length: endOfMonth(day).day }, (_, i) => moved(first, i)),
  ];
  while (cells.length % 7) cells.push(null);
  return Array.from({ length: cells.length / 7 }, (_, i) => cells.slice(7 * i, 7 * i + 7));
}

const MONTHS = Array.from({ length: 12 }, (_, month) =>
  new Date(2026, month).toLocaleDateString(LOCALE, { month: 'long' }).toLowerCase(),
);

/** A day that somebody typed, as `YYYY-MM-DD`: 2026-12-04, 4.12.2026, 4/12/2026, 4 December 2026 or
 * 4 Dec 2026; undefined for anything else. */
export function readDay(typed: string): string | undefined {
  const [first = '', second = '', third = ''] = typed
    .trim()
    .toLowerCase()
    .split(/[\s./-]+/);
  const [day, year] = first.length === 4 ? [third, first] : [first, third];
  const named = second.length >= 3 ? MONTHS.findIndex((one) => one.startsWith(second)) + 1 : 0;
  const month = named || Number(second);
  // What no month has becomes its last day.
  const found = new CalendarDate(Number(year), month, Number(day));
  const is = year.length === 4 && found.month === month && found.day === Number(day);
  return is ? found.toString() : undefined;
}
