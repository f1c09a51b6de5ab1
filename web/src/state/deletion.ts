import { createToaster } from '@skeletonlabs/skeleton-svelte';
import { answer, api, problemOf } from '../api/client';
import type { Kept } from './listening.svelte';

export const toaster = createToaster({ placement: 'bottom', duration: 8000 });

let lastDeleted: { source: Kept; id: string; onback: () => void } | null = null;

/** Deletes a take or recording and offers to bring it back; `onback` runs when it is back. */
export async function deleteSound(source: Kept, id: string, onback: () => void): Promise<boolean> {
  try {
    await answer(
      source === 'takes'
        ? api.DELETE('/api/takes/{take_id}', { params: { path: { take_id: id } } })
        : api.DELETE('/api/recordings/{recording_id}', { params: { path: { recording_id: id } } }),
    );
  } catch (error) {
    complain(error);
    return false;
  }
  lastDeleted = { source, id, onback };
  toaster.create({
    title: source === 'takes' ? 'Take deleted.' : 'Recording deleted.',
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
    const { source, id } = deleted;
    await answer<unknown>(
      source === 'takes'
        ? api.POST('/api/takes/{take_id}/restore', { params: { path: { take_id: id } } })
        : api.POST('/api/recordings/{recording_id}/restore', {
            params: { path: { recording_id: id } },
          }),
    );
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
