import { describe, expect, it } from 'vitest';
import type { Field } from '../api/client';
import { unusual } from './mine';

const field = (key: string, usual: string | number) => ({ key, usual }) as Field;

describe('what is set of a session', () => {
  it('is only what is not as usual, as text', () => {
    const fields = [field('follow', 'repeat'), field('sets', 2), field('rest_s', 0)];
    const way = { follow: 'repeat', sets: 3, rest_s: '0', other: 'x' };
    expect(unusual(fields, way)).toEqual({ sets: '3' });
  });
});
