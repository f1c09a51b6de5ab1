/** Takes by day, newest first, with the day in words. */
import type { Take } from '../api/client';

export interface Day {
  name: string;
  takes: Take[];
}

const DAY = new Intl.DateTimeFormat(undefined, { weekday: 'long', day: 'numeric', month: 'long' });
const CLOCK = new Intl.DateTimeFormat(undefined, {
  hour: '2-digit',
  minute: '2-digit',
  hourCycle: 'h23',
});

export function byDay(takes: Take[], now: Date): Day[] {
  const days: Day[] = [];
  for (const take of takes) {
    const name = dayName(new Date(take.started_at), now);
    if (days.at(-1)?.name !== name) days.push({ name, takes: [] });
    days.at(-1)?.takes.push(take);
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
