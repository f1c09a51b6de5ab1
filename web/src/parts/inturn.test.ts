import { expect, it } from 'vitest';
import { InTurn } from './inturn';

it('does one thing after the other, in the order they were asked for', async () => {
  const done: string[] = [];
  const turns = new InTurn();
  const slow = turns.run(async () => {
    await new Promise((resolve) => setTimeout(resolve, 20));
    done.push('slow');
  });
  const quick = turns.run(async () => {
    done.push('quick');
  });
  await Promise.all([slow, quick]);
  expect(done).toEqual(['slow', 'quick']);
});
