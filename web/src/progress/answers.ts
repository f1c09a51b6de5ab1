import type { Schemas } from '../api/client';
import { dayOf, shortDay } from '../parts/dates';

/** A question with its answer, told along days, minutes, notes, weeks, or in words alone. */
export type Answer = Schemas['ChangesOut']['answers'][number];

export interface AnswerTable {
  columns: string[];
  rows: (string | number)[][];
}

/** The numbers behind an answer's picture. */
export function tableOf(of: Answer): AnswerTable {
  switch (of.along) {
    case 'days': {
      const name = (value: number) =>
        of.names.find(({ midi }) => midi === Math.round(value))?.name ?? value.toFixed(1);
      return {
        columns: ['day', of.scale, 'times'],
        rows: of.values
          .map(({ at, value, times }) => [shortDay(dayOf(at)), name(value), times])
          .reverse(),
      };
    }
    case 'minutes':
      return {
        columns: ['minutes of playing before', of.scale, 'times'],
        rows: of.values.map(({ at, value, times }) => [at, value.toFixed(1), times]),
      };
    case 'notes':
      return {
        columns: ['note', 'cents now', 'cents at first', 'days'],
        rows: of.notes.map((one) => [
          one.name,
          signed(one.now_cents),
          one.then_cents === null ? 'too few days' : signed(one.then_cents),
          one.days,
        ]),
      };
    case 'weeks':
      return {
        columns: ['week of', ...(of.rows[0]?.registers ?? []).map(({ name }) => `${name}, min`)],
        rows: of.rows
          .map((row) => [
            shortDay(dayOf(row.monday)),
            ...row.registers.map(({ minutes }) => minutes.toFixed(1)),
          ])
          .reverse(),
      };
    case 'words':
      return { columns: [], rows: [] };
  }
}

function signed(cents: number): string {
  const whole = Math.round(cents);
  return whole < 0 ? `−${-whole}` : whole > 0 ? `+${whole}` : '0';
}
