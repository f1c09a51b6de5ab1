import { describe, expect, it } from 'vitest';
import { ANYTHING, found, isAnything, registersOf, type Entry, type Section } from './finding';

function entry(title: string, words: string, register: string | null, minutes: number): Entry {
  const path = `/book/${title}`;
  return {
    path,
    title,
    words,
    not: '',
    off: false,
    family: title,
    values: {},
    facts: [],
    register,
    minutes,
  };
}

const BOOK: Section[] = [
  { name: 'buzz', entries: [entry('Siren', 'Every pitch between two notes.', null, 0.5)] },
  {
    name: 'slurs',
    entries: [
      entry('Lip slur', 'Two notes on one air.', 'middle', 0.5),
      entry('Slur pyramid', 'One partial higher each round.', 'high', 2),
    ],
  },
];

const titles = (sections: Section[]) =>
  sections.flatMap(({ entries }) => entries.map(({ title }) => title));

describe('the book is found in', () => {
  it.each([
    ['everything', {}, ['Siren', 'Lip slur', 'Slur pyramid']],
    ['words in any order', { words: 'pyr SLUR' }, ['Slur pyramid']],
    ['words of what it is for', { words: 'pitch' }, ['Siren']],
    ['a part of the day', { part: 'slurs' }, ['Lip slur', 'Slur pyramid']],
    ['its highest note', { register: 'high' }, ['Slur pyramid']],
    ['its length', { minutes: 1 }, ['Siren', 'Lip slur']],
    ['nothing that is there', { words: 'zither' }, []],
  ])('by %s', (_, sought, expected) => {
    expect(titles(found(BOOK, { ...ANYTHING, ...sought }))).toEqual(expected);
  });

  it('in the registers there are', () => {
    expect(registersOf(BOOK)).toEqual(['middle', 'high']);
  });

  it('and knows when nothing is asked for', () => {
    expect(isAnything(ANYTHING)).toBe(true);
    expect(isAnything({ ...ANYTHING, minutes: 1 })).toBe(false);
  });
});
