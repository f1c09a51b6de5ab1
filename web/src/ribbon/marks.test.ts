import { expect, it } from 'vitest';
import { heaviest } from './marks';

it('says the heaviest marks, in the order they happened', () => {
  const marks = [{ weight: 1 }, { weight: 5 }, { weight: 2 }, { weight: 3 }];
  expect(heaviest(marks, 2)).toEqual([{ weight: 5 }, { weight: 3 }]);
  expect(heaviest(marks, Infinity)).toEqual(marks);
});
