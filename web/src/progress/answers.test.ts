import { expect, it } from 'vitest';
import { tableOf, type Answer } from './answers';

const said = { key: 'k', question: 'q', answer: 'a', words: 'w', told: true, no_change: false };

it('names notes where a value is one', () => {
  const of: Answer = {
    ...said,
    along: 'days',
    scale: 'highest note',
    values: [
      { at: '2026-11-02', value: 63.2, times: 1 },
      { at: '2026-11-03', value: 65, times: 2 },
    ],
    line: [],
    breaks: [],
    names: [
      { midi: 63, name: 'C5' },
      { midi: 64, name: 'C♯5' },
      { midi: 65, name: 'D5' },
    ],
  };
  expect(tableOf(of)).toEqual({
    columns: ['day', 'highest note', 'times'],
    rows: [
      ['3 Nov', 'D5', 2],
      ['2 Nov', 'C5', 1],
    ],
  });
});

it('tells how notes lie with their sign, and where too few days tell', () => {
  const of: Answer = {
    ...said,
    along: 'notes',
    near_cents: 15,
    notes: [
      { midi: 58, name: 'G4', now_cents: -3.6, then_cents: 12.2, days: 20 },
      { midi: 60, name: 'A4', now_cents: 0.2, then_cents: null, days: 6 },
    ],
  };
  expect(tableOf(of).rows).toEqual([
    ['G4', '−4', '+12', 20],
    ['A4', '0', 'too few days', 6],
  ]);
});
