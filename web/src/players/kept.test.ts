import { expect, it } from 'vitest';
import { bookKey, keepOnly, reportWordsKey } from './kept';

/** A browser's store, as far as it is asked. */
function storeOf(keys: string[]): Storage {
  const kept = new Map(keys.map((key) => [key, 'x']));
  return {
    get length() {
      return kept.size;
    },
    key: (at: number) => [...kept.keys()][at] ?? null,
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
    removeItem: (key: string) => void kept.delete(key),
    clear: () => kept.clear(),
  };
}

it('drops what a deleted player set and wrote, and nothing else', () => {
  const stays = [
    bookKey(1, 'long-tone'),
    reportWordsKey(1),
    bookKey(12, 'pyramid'),
    'orexis-player',
  ];
  const goes = [bookKey(2, 'long-tone'), bookKey(2, 'own-line'), reportWordsKey(2)];
  const store = storeOf([...goes, ...stays]);
  keepOnly([1, 12], store);
  expect(Array.from({ length: store.length }, (_, at) => store.key(at))).toEqual(stays);
});

it('takes a number that begins another for another player', () => {
  const store = storeOf([reportWordsKey(11), bookKey(11, 'siren')]);
  keepOnly([1], store);
  expect(store.length).toBe(0);
});
