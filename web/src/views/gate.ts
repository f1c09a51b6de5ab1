import { answer, api, type Player } from '../api/client';
import { who } from '../state/who.svelte';

export const LEVELS: Player['gate_level'][] = ['strict', 'normal', 'kind'];

/** Puts the player on the next gate level and keeps it. */
export async function nextGateLevel(player: Player): Promise<void> {
  const next = LEVELS[(LEVELS.indexOf(player.gate_level) + 1) % LEVELS.length];
  who.put(
    await answer(
      api.PUT('/api/players/{player_id}', {
        params: { path: { player_id: player.id } },
        body: { ...player, gate_level: next ?? 'normal' },
      }),
    ),
  );
}
