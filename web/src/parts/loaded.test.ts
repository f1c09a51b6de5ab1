import { expect, it } from 'vitest';
import { ProblemError } from '../api/client';
import { Loaded } from './loaded.svelte';

/** A question whose answers come when they are given. */
function asked<T>() {
  const waiting: { resolve: (value: T) => void; reject: (error: unknown) => void }[] = [];
  const loaded = new Loaded<T>(
    () => new Promise<T>((resolve, reject) => waiting.push({ resolve, reject })),
  );
  return { loaded, waiting };
}

it('keeps the answer to the last question, whichever comes first', async () => {
  const { loaded, waiting } = asked<string>();
  const first = loaded.load();
  const second = loaded.load();
  waiting[1]?.resolve('new');
  waiting[0]?.resolve('old');
  expect(await Promise.all([first, second])).toEqual([false, true]);
  expect(loaded.value).toBe('new');
});

it('tells a problem until it is asked for again, and keeps what it had', async () => {
  const { loaded, waiting } = asked<string>();
  const first = loaded.load();
  waiting[0]?.resolve('there');
  await first;
  const second = loaded.load();
  waiting[1]?.reject(new ProblemError({ title: 'Gone', detail: 'Start it.' }));
  await second;
  expect(loaded.problem).toEqual({ title: 'Gone', detail: 'Start it.' });
  expect(loaded.value).toBe('there');
  const third = loaded.load();
  waiting[2]?.resolve('back');
  await third;
  expect([loaded.value, loaded.problem]).toEqual(['back', null]);
});

it('drops an answer that comes after it was left', async () => {
  const { loaded, waiting } = asked<string>();
  const late = loaded.load();
  loaded.leave();
  waiting[0]?.resolve('late');
  expect(await late).toBe(false);
  expect(loaded.value).toBeNull();
});
