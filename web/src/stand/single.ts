import type { Action } from '../parts/keys.svelte';
import type { Stand } from './stand.svelte';

interface Ways {
  start: () => void;
  /** To the whole sessions. */
  choose: () => void;
  openPage: () => void;
  useMicrophone: () => void;
  useStandIn: () => void;
  measure: () => Promise<void>;
}

/** What there is to do with one exercise by itself. */
export function singleActions(stand: Stand, ways: Ways): Action[] {
  const standIn = stand.source === 'stand-in';
  const more = stand.plan?.more ?? null;
  /** What this exercise leads to. */
  const onward = stand.plan?.leads_to[0];
  return [
    {
      keys: [' '],
      shown: 'Space',
      label: standIn ? 'stand-in plays' : stand.listening ? 'listening' : 'listen',
      run: ways.start,
      disabled: stand.starting || stand.standInPlaying || (!standIn && stand.listening),
    },
    {
      keys: ['w'],
      shown: 'W',
      label: 'whole sessions',
      run: ways.choose,
      disabled: !stand.plan,
    },
    {
      keys: ['ArrowUp', 'PageUp'],
      shown: '↑',
      label: 'higher',
      run: () => void stand.turn(stand.plan?.higher, 1),
      quiet: true,
    },
    {
      keys: ['ArrowDown', 'PageDown'],
      shown: '↓',
      label: 'lower',
      run: () => void stand.turn(stand.plan?.higher, -1),
      quiet: true,
    },
    {
      keys: ['+', '=', 'ArrowRight'],
      shown: '+',
      label: `more: ${more?.label ?? ''}`,
      run: () => void stand.turn(more, 1),
      disabled: !more,
      quiet: true,
    },
    {
      keys: ['-', 'ArrowLeft'],
      shown: '−',
      label: `less: ${more?.label ?? ''}`,
      run: () => void stand.turn(more, -1),
      disabled: !more,
      quiet: true,
    },
    {
      keys: ['n'],
      shown: 'N',
      label: onward ? `on to ${onward.title}` : 'on to the next',
      run: () => onward && void stand.put({ family: onward.key, values: {} }),
      disabled: !onward,
      swipe: 'left',
      quiet: !stand.done,
    },
    {
      keys: ['e'],
      shown: 'E',
      label: 'its page in the book',
      run: ways.openPage,
      disabled: !stand.plan,
      quiet: true,
    },
    standIn
      ? { keys: ['m'], shown: 'M', label: 'microphone', run: ways.useMicrophone }
      : { keys: ['s'], shown: 'S', label: 'stand-in player', run: ways.useStandIn },
    {
      keys: ['l'],
      shown: 'L',
      label: 'measure how late the microphone hears',
      run: () => void ways.measure(),
      quiet: true,
    },
    {
      keys: ['x'],
      shown: 'X',
      label: 'stop listening',
      run: () => void stand.stop(),
      quiet: true,
    },
  ];
}
