/** Days and months as a calendar lays them out; a day is `YYYY-MM-DD`, a month its first day. */

export function iso(day: Date): string {
  const part = (value: number) => String(value).padStart(2, '0');
  return `${day.getFullYear()}-${part(day.getMonth() + 1)}-${part(day.getDate())}`;
}

const parts = (on: string) => on.split('-').map(Number) as [number, number, number];

export function moved(on: string, days: number): string {
  const [year, month, day] = parts(on);
  return iso(new Date(year, month - 1, day + days, 12));
}

export function monthOf(on: string): string {
  return `${on.slice(0, 8)}01`;
}

/** The same day some months on, or the last that month has. */
export function monthsOn(on: string, months: number): string {
  const [year, month, day] = parts(on);
  const last = new Date(year, month - 1 + months + 1, 0, 12);
  last.setDate(Math.min(day, last.getDate()));
  return iso(last);
}

/** The weeks of a month from Monday to Sunday; null where a day is of another month. */
export function weeksOf(first: string): (string | null)[][] {
  const [year, month] = parts(first);
  const before = (new Date(year, month - 1, 1, 12).getDay() + 6) % 7;
  const count = new Date(year, month, 0, 12).getDate();
  const cells = [
    ...Array<null>(before).fill(null),
    ...Array.from({ length: count }, (_, i) => moved(first, i)),
  ];
  while (cells.length % 7) cells.push(null);
  return Array.from({ length: cells.length / 7 }, (_, i) => cells.slice(7 * i, 7 * i + 7));
}
