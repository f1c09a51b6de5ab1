import { describe, expect, it } from 'vitest';
import { LENGTHS, next, withoutLast, withSlot, withWord } from './line';

const PEN = { beats: '1', slurred: true, loud: 'mf' };
const THIRD = { length: '0', partial: 3, midi: 58 };
const FOURTH = { length: '0', partial: 4, midi: 63 };

describe('a line that is tapped', () => {
  it('slurs on from a note and begins anew after a breath or a rest', () => {
    let line = withSlot('', THIRD, PEN);
    line = withSlot(line, FOURTH, { ...PEN, beats: '2' });
    line = withSlot(withWord(line, "'"), THIRD, PEN);
    line = withSlot(withWord(line, '-:1'), FOURTH, PEN);
    expect(line).toBe("58@0.3:1 ~63@0.4:2 ' 58@0.3:1 -:1 63@0.4:1");
    expect(withSlot('58@0.3:1', FOURTH, { ...PEN, slurred: false })).toBe('58@0.3:1 63@0.4:1');
  });

  it('says how loud it is where that changes', () => {
    const line = withSlot(withSlot('', THIRD, { ...PEN, loud: 'p' }), FOURTH, {
      ...PEN,
      loud: 'p',
    });
    expect(line).toBe('p 58@0.3:1 ~63@0.4:1');
    expect(withSlot(line, THIRD, PEN)).toBe('p 58@0.3:1 ~63@0.4:1 mf ~58@0.3:1');
  });

  it('is taken back step by step', () => {
    expect(withoutLast('58@0.3:1 p ~63@0.4:1')).toBe('58@0.3:1');
    expect(withoutLast('58@0.3:1')).toBe('');
    expect(withoutLast('')).toBe('');
  });

  it('has lengths to choose from, up to an end', () => {
    expect(next(LENGTHS, '1', 1)).toBe('3/2');
    expect(next(LENGTHS, '1/4', -1)).toBe('1/4');
  });
});
