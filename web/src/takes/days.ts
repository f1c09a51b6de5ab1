/** What was played by day, newest first, with the day in words. */

export interface Day<T> {
  name: string;
  entries: T[];
}

const DAY = new Intl.DateTimeFormat(undefined, { weekday: 'long', day: 'numeric', month: 'long' });
const CLOCK = new Intl.DateTimeFormat(undefined, {
  hour: '2-digit',
  minute: '2-digit',
  hourCycle: 'h23',
});

export function byDay<T extends { started_at: string }>(entries: T[], now: Date): Day<T>[] {
  const days: Day<T>[] = [];
  for (const entry of entries) {
    const name = dayName(new Date(entry.started_at), now);
    if (days.at(-1)?.name !== name) days.push({ name, entries: [] });
    days.at(-1)?.entries.push(entry);
  }
  return days;
}

export function dayName(date: Date, now: Date): string {
  const midnight = (day: Date) => new Date(day).setHours(0, 0, 0, 0);
  const ago = Math.round((midnight(now) - midnight(date)) / 86_400_000);
  return ago === 0 ? 'Today' : ago === 1 ? 'Yesterday' : DAY.format(date);
}

export function clock(date: string): string {
  return CLOCK.format(new Date(date));
}
