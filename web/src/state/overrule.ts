import { answer, api, type Take } from '../api/client';

/** Turns the gate's verdict on a take round, or takes that back; returns the take's new verdict. */
export async function turnRound(take: Take): Promise<Take['verdict']> {
  const { passed, overruled_passed } = take.verdict;
  const own = overruled_passed === null ? !passed : null;
  const changed = await answer(
    api.PUT('/api/takes/{take_id}/overrule', {
      params: { path: { take_id: take.id } },
      body: { passed: own },
    }),
  );
  return changed.verdict;
}
