import { createToaster } from '@skeletonlabs/skeleton-svelte';
import { problemOf } from '../api/client';
import { remove, restore, type KeptAt } from './kept';

export const toaster = createToaster({ placement: 'bottom', duration: 8000 });

let lastDeleted: { kept: KeptAt; onback: () => void } | null = null;

/** Deletes a take or recording and offers to bring it back; `onback` runs when it is back. */
export async function deleteSound(kept: KeptAt, onback: () => void): Promise<boolean> {
  try {
    await remove(kept);
  } catch (error) {
    complain(error);
    return false;
  }
  lastDeleted = { kept, onback };
  toaster.create({
    title: kept.kind === 'takes' ? 'Take deleted.' : 'Recording deleted.',
    action: { label: 'Bring it back (Z)', onClick: () => void bringBack() },
  });
  return true;
}

/** Undoes the last deletion, if there was one. */
export async function bringBack(): Promise<void> {
  const deleted = lastDeleted;
  if (!deleted) return;
  lastDeleted = null;
  try {
    await restore(deleted.kept);
    toaster.create({ title: 'It is back.' });
    deleted.onback();
  } catch (error) {
    lastDeleted = deleted;
    complain(error);
  }
}

export function complain(error: unknown): void {
  const { title, detail } = problemOf(error);
  toaster.create({ title, description: detail });
}
