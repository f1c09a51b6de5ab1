import { answer, api, type Player } from '../api/client';
import { known } from '../api/fields.svelte';
import { who } from './who.svelte';

/** How hard a gate can be, hardest first, in words. */
export function gateLevels(): Player['gate_level'][] {
  const { choices } = known.fields.player.gate_level ?? { choices: [] };
  return choices.map(({ value }) => value as Player['gate_level']);
}

/** Puts the player on the next gate level and keeps it. */
export async function nextGateLevel(player: Player): Promise<void> {
  const levels = gateLevels();
  const next = levels[(levels.indexOf(player.gate_level) + 1) % levels.length] ?? player.gate_level;
  who.put(
    await answer(
      api.PUT('/api/players/{player_id}/gate', {
        params: { path: { player_id: player.id } },
        body: { gate_level: next },
      }),
    ),
  );
}
