import { answer, api, type Player } from '../api/client';
import { known } from '../api/fields.svelte';
import { who } from './who.svelte';

/** The standards, hardest first, in words. */
export function standards(): Player['standard'][] {
  const { choices } = known.fields.player.standard ?? { choices: [] };
  return choices.map(({ value }) => value as Player['standard']);
}

/** Puts the player on the next standard and keeps it. */
export async function setNextStandard(player: Player): Promise<void> {
  const levels = standards();
  const next = levels[(levels.indexOf(player.standard) + 1) % levels.length] ?? player.standard;
  who.put(
    await answer(
      api.PUT('/api/players/{player_id}/standard', {
        params: { path: { player_id: player.id } },
        body: { standard: next },
      }),
    ),
  );
}
