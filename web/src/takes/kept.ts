import {
  answer,
  api,
  ProblemError,
  sendFile,
  SERVER_GONE,
  type Kind,
  type Bookmark,
  type Recording,
} from '../api/client';

/** One sound that was kept: a take from the Stand, or a recording. */
export interface KeptAt {
  kind: Kind;
  id: string;
}

export const soundPath = ({ kind, id }: KeptAt) => `/api/${kind}/${id}/sound`;

/** Where its page is. */
export const pagePath = ({ kind, id }: KeptAt) => `/${kind}/${id}`;

/** Where in a sound its page is opened at, in seconds: what its address says after `?at=`. */
export function startOf(querystring: string | undefined): number {
  const at = Number(new URLSearchParams(querystring).get('at'));
  return Number.isFinite(at) ? Math.max(at, 0) : 0;
}

const path = ({ kind, id }: KeptAt) => ({ kind, kept_id: id });

/** Its sound as an address for an audio element; let go of it with `URL.revokeObjectURL`. */
export async function fetchSound(kept: KeptAt): Promise<string> {
  let response;
  try {
    response = await fetch(soundPath(kept));
  } catch {
    throw new ProblemError(SERVER_GONE);
  }
  if (!response.ok) throw new Error('The sound could not be fetched.');
  return URL.createObjectURL(await response.blob());
}

export async function remove(kept: KeptAt): Promise<void> {
  await answer(api.DELETE('/api/{kind}/{kept_id}', { params: { path: path(kept) } }));
}

export async function restore(kept: KeptAt): Promise<void> {
  await answer(api.POST('/api/{kind}/{kept_id}/restore', { params: { path: path(kept) } }));
}

export async function bookmarkAt(kept: KeptAt, atS: number, words: string): Promise<Bookmark> {
  return answer(
    api.POST('/api/{kind}/{kept_id}/bookmarks', {
      params: { path: path(kept) },
      body: { at_s: Math.round(atS * 100) / 100, words },
    }),
  );
}

export async function removeBookmark(kept: KeptAt, bookmark: Bookmark): Promise<void> {
  await answer(
    api.DELETE('/api/{kind}/{kept_id}/bookmarks/{bookmark_id}', {
      params: { path: { ...path(kept), bookmark_id: bookmark.id } },
    }),
  );
}

/** Says whether one has been back to a bookmark. */
export async function goBack(
  kept: KeptAt,
  bookmark: { id: number },
  gone_back: boolean,
): Promise<Bookmark> {
  return answer(
    api.PUT('/api/{kind}/{kept_id}/bookmarks/{bookmark_id}/gone-back', {
      params: { path: { ...path(kept), bookmark_id: bookmark.id } },
      body: { gone_back },
    }),
  );
}

/** Sends a sound file to be listened to and kept; raises `ProblemError`. */
export function addRecording(playerId: number, file: File): Promise<Recording> {
  return sendFile(`/api/players/${playerId}/recordings`, file);
}
