import { scaleLinear } from 'd3-scale';
import { describe, expect, it } from 'vitest';
import { between, bore, height, landmarks, named, tube } from './tubes';

const none = { reached: null, held: null, secure: null };

describe('the bore of a week', () => {
  it('is a thread, a thin tube and the whole bore, and slopes soon from one to the next', () => {
    const span = {
      bottom: { reached: 50, held: 51, secure: 55 },
      top: { reached: 70, held: 67, secure: 65 },
    };
    // It is thin from a half step and a half past the secure notes on, and at held 51 so soon a
    // thread that there is no room for a slope.
    const places = bore(span).map(([midi]) => Math.round(100 * midi) / 100);
    expect(places).toEqual([49.58, 50.58, 53.08, 54.58, 65.42, 66.92, 67.42, 68.92, 70.42]);
    const [thread, thin, thinToo, whole] = bore(span).map(([, thick]) => thick);
    expect(thin).toBe(thinToo);
    expect(thread).toBeLessThan(thin ?? 0);
    expect(thin).toBeLessThan(whole ?? 0);
    expect(bore(span).at(-1)?.[1]).toBe(thread);
  });

  it('has a length where one note alone was reached', () => {
    const one = { ...none, reached: 60 };
    expect(bore({ bottom: one, top: one }).map(([midi]) => midi)).toEqual([59.58, 60.42]);
  });

  it('never turns back where what is secure was not played that week', () => {
    const span = {
      bottom: { reached: 58, held: 58, secure: 50 },
      top: { reached: 60, held: null, secure: 66 },
    };
    const places = bore(span).map(([midi]) => midi);
    expect(places).toEqual([...places].sort((a, b) => a - b));
    expect(new Set(places).size).toBe(places.length);
  });

  it('is drawn about its middle line', () => {
    const one = { reached: 60, held: 60, secure: 60 };
    const path = tube({ bottom: one, top: one }, scaleLinear([59, 61], [0, 100]), 40);
    const heights = [...path.matchAll(/,(-?[\d.]+)/g)].map(([, y]) => Number(y));
    expect(Math.max(...heights)).toBeCloseTo(17.2);
    expect(Math.min(...heights)).toBeCloseTo(-17.2);
  });

  it('is nothing where nothing was reached', () => {
    expect(tube({ bottom: none, top: none }, (midi) => midi, 40)).toBe('');
  });
});

it('a note that stands surer has a taller mark', () => {
  const heights = (['not played yet', 'attempted', 'touched', 'held', 'secure'] as const).map(
    height,
  );
  expect(heights).toEqual([...heights].sort((a, b) => a - b));
  expect(heights[0]).toBe(0);
  expect(new Set(heights).size).toBe(5);
});

it('rows are named by their Monday, and by their weeks where they are several', () => {
  const row = { monday: '2026-09-21', weeks: 1, played: true, parts: [] };
  // How a month is shortened is the browser's.
  expect(named(row)).toMatch(/^21 Sept?$/);
  expect(named({ ...row, weeks: 4 })).toMatch(/^21 Sept?, 4 weeks$/);
});

it('a scale is read by its C and G', () => {
  const notes = ['C5', 'B4', 'G♯4', 'G4', 'C♭4', 'C-1'].map((name) => ({ name }) as never);
  expect(landmarks(notes).map(({ name }) => name)).toEqual(['C5', 'G4', 'C-1']);
});

it('a span is named from note to note, once where it is one', () => {
  const notes = [
    { midi: 63, name: 'C5' },
    { midi: 58, name: 'G4' },
  ] as never;
  expect(between(notes, 58, 63)).toBe('G4 to C5');
  expect(between(notes, 58, 58)).toBe('G4');
  expect(between(notes, 58, null)).toBe('–');
});
