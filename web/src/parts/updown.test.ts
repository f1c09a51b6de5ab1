import { expect, it } from 'vitest';
import { upDown } from './updown';

it('goes one back and one on, by arrows and by the pedals of a page turner', () => {
  const went: number[] = [];
  const [before, next] = upDown((by) => went.push(by), 'before', 'next');
  before?.run();
  next?.run();
  expect(went).toEqual([-1, 1]);
  expect(before?.keys).toEqual(['ArrowUp', 'PageUp']);
  expect(next?.keys).toEqual(['ArrowDown', 'PageDown']);
});

it('shows what it is asked to at the foot', () => {
  const quiet = (how?: 'before' | 'both' | 'none') =>
    upDown(() => undefined, 'a', 'b', { quiet: how }).map((one) => one.quiet);
  expect(quiet()).toEqual([true, false]);
  expect(quiet('both')).toEqual([true, true]);
  expect(quiet('none')).toEqual([false, false]);
});
