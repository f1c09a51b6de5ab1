import createClient from 'openapi-fetch';
import { Order } from './order';
import type { components, paths } from './schema.generated';

export type Schemas = components['schemas'];
export type Player = Schemas['PlayerOut'];
export type PlayerIn = Schemas['PlayerIn'];
export type Instrument = Schemas['InstrumentOut'];
export type Field = Schemas['FieldOut'];
export type Fields = Schemas['FieldsOut'];
/** An exercise as it is put on the Stand. */
export type Plan = Schemas['StandPlan'];
export type Band = Schemas['BandOut'];
export type StepOutcome = Schemas['StepOut'];
export type Take = Schemas['TakeOut'];
export type TakeDetail = Schemas['TakeDetail'];
/** A take as a verdict on the live line tells it. */
export type JudgedTake = Schemas['JudgedTakeOut'];
export type Mark = Schemas['MarkOut'];
export type Bookmark = Schemas['BookmarkOut'];
export type Recording = Schemas['RecordingOut'];
export type RecordingDetail = Schemas['RecordingDetail'];
export type Horn = Schemas['HornOut'];
export type HornNote = Schemas['NoteOut'];
export type HornLength = Schemas['LengthOut'];
export type Way = Schemas['WayOut'];
export type Between = Schemas['BetweenOut'];
export type Also = Schemas['NoteUsesOut'];
export type Through = Schemas['ThroughOut'];
export type HornSetup = Schemas['HornSetupOut'];
export type HornSetupIn = Schemas['HornSetupIn'];
export type Verdict = Schemas['VerdictOut'];
export type Piece = Schemas['PieceOut'];
export type PieceOver = Schemas['PieceOverOut'];
export type Passage = Schemas['PassageOut'];
export type PlaceTold = Schemas['PlaceTold'];
export type RuleLine = Schemas['RuleOut'];
export type BookGroup = Schemas['GroupOut'];
/** An exercise that the player keeps under a name. */
export type OwnExercise = Schemas['OwnLine'];
export type MicrophoneHeard = Schemas['MicrophoneTold'];
export type NoteNow = Schemas['NoteNowOut'];
export type FreeOver = Schemas['FreeEnded'];
/** An ear that listens somewhere in the house. */
export type OpenEar = Schemas['OpenEarOut'];
export type Chart = Schemas['ChartOut'];
export type ExercisePath = Schemas['PathOut'];
export type MelodyPart = Schemas['MelodyPartOut'];
export type Attempt = Schemas['AttemptOut'];
export type ExercisePage = Schemas['ExercisePage'];
/** What goes over the live line, both ways. */
export type Hello = Schemas['Hello'];
export type ServerMessage = Schemas['ServerMessage'];
/** The kinds of sound that are kept. */
export type Kind = Schemas['Kind'];

const order = new Order((request) => fetch(request));

export const api = createClient<paths>({
  baseUrl: '/',
  fetch: (request) => order.request(request),
});

/** What went wrong and what to do about it, as the server says it. */
export type Problem = Pick<Schemas['Problem'], 'title' | 'detail'>;

export const SERVER_GONE: Problem = {
  title: 'Orexis has stopped answering',
  detail: 'Start it again in its terminal, then try once more. Nothing that was kept is lost.',
};

/** Raised by `answer` with what the server said, or with `SERVER_GONE`. */
export class ProblemError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.title);
  }
}

/** The data of a call, or a `ProblemError`. */
export async function answer<T>(
  call: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  let result;
  try {
    result = await call;
  } catch {
    throw new ProblemError(SERVER_GONE);
  }
  if (result.response.ok) return result.data as T;
  const said = result.error as Partial<Problem> | undefined;
  throw new ProblemError(
    said?.title && said.detail ? { title: said.title, detail: said.detail } : SERVER_GONE,
  );
}

export function problemOf(error: unknown): Problem {
  return error instanceof ProblemError
    ? error.problem
    : { title: 'Something went wrong here', detail: String(error) };
}

/** What went wrong in a line. */
export function problemWords(error: unknown): string {
  const { title, detail } = problemOf(error);
  return `${title}. ${detail}`;
}

/** Sends a file as the body of a request; its name goes in the address. Raises `ProblemError`. */
export function sendFile<T>(path: string, file: File): Promise<T> {
  return sendBody(`${path}?name=${encodeURIComponent(file.name)}`, file);
}

/** Sends a file as the body of a request. Raises `ProblemError`. */
export async function sendBody<T>(address: string, file: File): Promise<T> {
  const sent = fetch(address, {
    method: 'POST',
    body: file,
    headers: { 'Content-Type': 'application/octet-stream' },
  });
  return answer<T>(
    sent.then(async (response) => {
      const said: unknown = await response.json();
      return response.ok ? { data: said as T, response } : { error: said, response };
    }),
  );
}

/** What an exercise is set to, as addresses have it. */
export function asSet(values: Record<string, string>): string[] {
  return Object.entries(values).map(([key, value]) => `${key}=${value}`);
}
