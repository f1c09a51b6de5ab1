import { describe, expect, it } from 'vitest';
import type { Field } from '../api/client';
import { next, withoutLast, withSlot, withWord } from './line';

const PEN = { beats: '1', slurred: true, loud: 'mf' };
const THIRD = { length: '0', partial: 3, midi: 58 };
const FOURTH = { length: '0', partial: 4, midi: 63 };
const tap = (line: string, slot: typeof THIRD, pen = PEN) => withSlot(line, slot, pen, 'mf');

describe('a line that is tapped', () => {
  it('is one word after another', () => {
    let line = tap('', THIRD);
    line = tap(line, FOURTH, { ...PEN, beats: '2' });
    line = tap(withWord(line, "'"), THIRD);
    line = tap(withWord(line, '-:1'), FOURTH, { ...PEN, slurred: false });
    expect(line).toBe("~58@0.3:1 ~63@0.4:2 ' ~58@0.3:1 -:1 63@0.4:1");
  });

  it('says how loud it is where that changes', () => {
    const soft = { ...PEN, loud: 'p' };
    const line = tap(tap('', THIRD, soft), FOURTH, soft);
    expect(line).toBe('p ~58@0.3:1 ~63@0.4:1');
    expect(tap(line, THIRD)).toBe('p ~58@0.3:1 ~63@0.4:1 mf ~58@0.3:1');
  });

  it('is taken back step by step', () => {
    expect(withoutLast('58@0.3:1 p ~63@0.4:1')).toBe('58@0.3:1');
    expect(withoutLast('58@0.3:1')).toBe('');
    expect(withoutLast('')).toBe('');
  });

  it('has lengths to choose from, up to an end', () => {
    const choices = ['1/4', '1', '3/2'].map((value) => ({ value, label: value }));
    const field = { choices } as Field;
    expect(next(field, '1', 1)).toBe('3/2');
    expect(next(field, '1/4', -1)).toBe('1/4');
  });
});
