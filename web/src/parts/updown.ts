import type { Action } from './keys.svelte';

interface How {
  disabled?: boolean;
  /** Which of the two is only in the list of all keys. */
  quiet?: 'before' | 'both' | 'none';
}

/** The keys that go through a list, and the pedals of a page turner. */
export function upDown(
  go: (by: number) => void,
  before: string,
  next: string,
  { disabled = false, quiet = 'before' }: How = {},
): Action[] {
  return [
    {
      keys: ['ArrowUp', 'PageUp'],
      shown: '↑',
      label: before,
      run: () => go(-1),
      disabled,
      quiet: quiet !== 'none',
    },
    {
      keys: ['ArrowDown', 'PageDown'],
      shown: '↓',
      label: next,
      run: () => go(1),
      disabled,
      quiet: quiet === 'both',
    },
  ];
}
