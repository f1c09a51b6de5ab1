import type { Action } from '../parts/keys.svelte';
import type { Going } from './going.svelte';
import type { Spoken } from './spoken.svelte';
import type { Stand } from './stand.svelte';

/** What there is to do in a whole session, though nothing of it has to be done. */
export function wholeActions(stand: Stand, going: Going, spoken: Spoken): Action[] {
  if (stand.ended) {
    return [
      {
        keys: ['Escape'],
        shown: 'Esc',
        label: 'back to the Stand',
        run: () => void stand.leaveWhole(),
      },
      {
        keys: ['v'],
        shown: 'V',
        label: spoken.recording ? 'stop and keep it' : 'say a note',
        run: () => void spoken.toggle(stand.sessionId),
      },
    ];
  }
  const question = going.now?.question;
  return [
    stand.paused
      ? { keys: [' '], shown: 'Space', label: 'go on', run: () => stand.press('go-on') }
      : { keys: [' '], shown: 'Space', label: 'pause', run: () => stand.press('pause') },
    {
      keys: ['ArrowRight', 'PageDown'],
      shown: '→',
      label: going.stretch?.phase === 'rest' ? 'rest no longer' : 'skip',
      run: () => stand.press('on'),
      swipe: 'left',
    },
    {
      keys: ['ArrowLeft', 'PageUp'],
      shown: '←',
      label: 'back',
      run: () => stand.press('back'),
      swipe: 'right',
    },
    { keys: ['r'], shown: 'R', label: 'again', run: () => stand.press('again') },
    {
      keys: ['k'],
      shown: 'K',
      label: 'next exercise',
      run: () => stand.press('next'),
      quiet: true,
    },
    {
      keys: ['q'],
      shown: 'Q',
      label: question ? question.leads_to : 'when it does not work',
      run: () => question && stand.help(question.key),
      disabled: !question,
      quiet: true,
    },
    { keys: ['x'], shown: 'X', label: 'end it', run: () => stand.press('end') },
  ];
}
