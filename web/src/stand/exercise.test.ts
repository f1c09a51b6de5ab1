import { describe, expect, it } from 'vitest';
import type { Field } from '../api/client';
import { turned } from './exercise';

const FIELD: Field = {
  key: 'hold_s',
  label: 'hold',
  unit: 's',
  least: 1,
  most: 5,
  step: 1,
  longest: null,
  choices: [],
  above: '',
  below: '',
  either_way: false,
  usual: 4,
  is_line: false,
};

describe('a field that is turned', () => {
  it('goes a step at a time and stays within its bounds', () => {
    expect(turned(FIELD, '4', 1)).toBe('5');
    expect(turned(FIELD, '5', 1)).toBeNull();
    expect(turned(FIELD, '1', -1)).toBeNull();
    expect(turned({ ...FIELD, step: 0.5 }, '2', -1)).toBe('1.5');
  });

  it('goes through its choices, up to the one before', () => {
    const lengths = ['0', '2', '1'].map((value) => ({ value, label: value, caution: '' }));
    const field = { ...FIELD, least: null, most: null, step: null, choices: lengths };
    expect(turned(field, '2', 1)).toBe('0');
    expect(turned(field, '2', -1)).toBe('1');
    expect(turned(field, '0', 1)).toBeNull();
  });
});
