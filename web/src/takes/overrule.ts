import { answer, api, type Take } from '../api/client';

/** Turns the verdict on a take round, or takes that back; returns the take's new verdict. */
export async function turnRound(take: Take): Promise<Take['verdict']> {
  const { passed, overruled } = take.verdict;
  const changed = await answer(
    api.PUT('/api/takes/{take_id}/overrule', {
      params: { path: { take_id: take.id } },
      body: { passed: overruled ? null : !passed },
    }),
  );
  return changed.verdict;
}

/** What the key that overrules does next. */
export function overruleWords(take: Take | null | undefined): string {
  return take?.verdict.overruled ? 'as Orexis judged it' : 'overrule';
}
