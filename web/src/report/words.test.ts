import { expect, it } from 'vitest';
import { Saying } from './words.svelte';

it('is whole once somebody says something', () => {
  const saying = new Saying();
  expect(saying.whole).toBe(false);
  saying.words = 'Lower shoulders.';
  expect(saying.whole).toBe(false);
  saying.saidBy = ' Ruven ';
  expect(saying.whole).toBe(true);
  saying.words = '  ';
  expect(saying.whole).toBe(false);
  saying.bookmark('ab', 1.234, ' here ');
  expect(saying.whole).toBe(true);
  expect(saying.document()).toEqual({
    schema: 'orexis.words/1',
    said_by: 'Ruven',
    words: '',
    marks: [{ take_id: 'ab', at_s: 1.23, words: 'here' }],
  });
});

it('keeps bookmarks in the order of time, and takes one away', () => {
  const saying = new Saying();
  saying.bookmark('ab', 3, 'late');
  saying.bookmark('ab', 1, 'early');
  expect(saying.marks.map(({ words }) => words)).toEqual(['early', 'late']);
  const [first] = saying.marks;
  if (first) saying.removeBookmark(first);
  expect(saying.marks.map(({ words }) => words)).toEqual(['late']);
});
