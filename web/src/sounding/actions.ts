/** The keys of the metronome and the drone, wherever one is. */
import type { Player } from '../api/client';
import type { Action } from '../parts/keys.svelte';
import { drone } from './drone.svelte';
import { metronome } from './metronome.svelte';

export function soundingActions(player: Player | null): Action[] {
  return [
    {
      keys: ['8'],
      shown: '8',
      label: 'metronome on or off',
      run: () => metronome.toggle(),
      disabled: metronome.barred,
    },
    {
      keys: ['9'],
      shown: '9',
      label: 'drone on or off',
      run: () => drone.toggle(player),
      disabled: drone.barred,
    },
    { keys: ['0'], shown: '0', label: 'tap the tempo', run: () => metronome.tap() },
    {
      keys: ['('],
      shown: '(',
      label: 'metronome slower',
      run: () => metronome.faster(-2),
    },
    {
      keys: [')'],
      shown: ')',
      label: 'metronome faster',
      run: () => metronome.faster(2),
    },
  ];
}
