import { ProblemError, SERVER_GONE, type Problem, type Recording } from '../api/client';

/** Sends a sound file to be listened to and kept; raises `ProblemError`. */
export async function addRecording(playerId: number, file: File): Promise<Recording> {
  let response;
  try {
    response = await fetch(
      `/api/players/${playerId}/recordings?name=${encodeURIComponent(file.name)}`,
      { method: 'POST', body: file, headers: { 'Content-Type': 'application/octet-stream' } },
    );
  } catch {
    throw new ProblemError(SERVER_GONE);
  }
  const said = (await response.json()) as Recording & Problem;
  if (!response.ok) throw new ProblemError({ title: said.title, detail: said.detail });
  return said;
}
