import type { Action } from './keys.svelte';

/** The keys that go through a list, and the pedals of a page turner. */
export function upDown(
  go: (by: number) => void,
  before: string,
  next: string,
  more: Pick<Action, 'disabled' | 'quiet'> = {},
): Action[] {
  return [
    {
      keys: ['ArrowUp', 'PageUp'],
      shown: '↑',
      label: before,
      run: () => go(-1),
      ...more,
      quiet: true,
    },
    { keys: ['ArrowDown', 'PageDown'], shown: '↓', label: next, run: () => go(1), ...more },
  ];
}
