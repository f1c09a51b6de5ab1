import { createToaster } from '@skeletonlabs/skeleton-svelte';
import { answer, api, problemOf } from '../api/client';

export const toaster = createToaster({ placement: 'bottom', duration: 8000 });

let lastDeleted: { id: string; onback: () => void } | null = null;

/** Deletes a take and offers to bring it back; `onback` runs when it is back. */
export async function deleteTake(id: string, onback: () => void): Promise<boolean> {
  try {
    await answer(api.DELETE('/api/takes/{take_id}', { params: { path: { take_id: id } } }));
  } catch (error) {
    complain(error);
    return false;
  }
  lastDeleted = { id, onback };
  toaster.create({
    title: 'Take deleted.',
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
    await answer(
      api.POST('/api/takes/{take_id}/restore', { params: { path: { take_id: deleted.id } } }),
    );
    toaster.create({ title: 'It is back.' });
    deleted.onback();
  } catch (error) {
    lastDeleted = deleted;
    complain(error);
  }
}

function complain(error: unknown): void {
  const { title, detail } = problemOf(error);
  toaster.create({ title, description: detail });
}
