import type { Schemas } from '../api/client';

/** A whole session that another place hands to the Stand, to be played as soon as it is there. */
export interface Handed {
  title: string;
  kind: Schemas['SessionKind'];
  exercises: Schemas['ExerciseOut'][];
}

let handed: Handed | null = null;

export function handOver(session: Handed): void {
  handed = session;
}

/** What was handed over, once. */
export function takeHanded(): Handed | null {
  const taken = handed;
  handed = null;
  return taken;
}
