import { answer, api, sendFile, type MelodyPart, type OwnExercise } from '../api/client';
import { complain, toaster } from '../takes/deletion';

export function ownExercises(playerId: number, signal?: AbortSignal): Promise<OwnExercise[]> {
  return answer(
    api.GET('/api/players/{player_id}/own', {
      params: { path: { player_id: playerId } },
      signal,
    }),
  );
}

/** Keeps an exercise under a name, in place of one that is kept if there is one. */
export function keepOwn(
  playerId: number,
  body: { name: string; family: string; values: Record<string, string> },
  kept?: string,
): Promise<OwnExercise> {
  const path = { player_id: playerId };
  return answer(
    kept
      ? api.PUT('/api/players/{player_id}/own/{own_id}', {
          params: { path: { ...path, own_id: kept } },
          body,
        })
      : api.POST('/api/players/{player_id}/own', { params: { path }, body }),
  );
}

/** Takes one out of the book and offers to bring it back; `onback` runs when it is back. */
export async function deleteOwn(
  playerId: number,
  { id, name }: OwnExercise,
  onback: () => void,
): Promise<boolean> {
  const params = { path: { player_id: playerId, own_id: id } };
  const back = async () => {
    try {
      await answer(api.POST('/api/players/{player_id}/own/{own_id}/restore', { params }));
      onback();
    } catch (error) {
      complain(error);
    }
  };
  try {
    await answer(api.DELETE('/api/players/{player_id}/own/{own_id}', { params }));
  } catch (error) {
    complain(error);
    return false;
  }
  toaster.create({
    title: `${name} deleted.`,
    action: { label: 'Bring it back', onClick: () => void back() },
  });
  return true;
}

/** The parts of a MusicXML or MIDI file as exercises; raises `ProblemError`. */
export function readMelody(playerId: number, file: File): Promise<MelodyPart[]> {
  return sendFile(`/api/players/${playerId}/melodies`, file);
}
