import type { Problem } from '../api/client';
import type { EarTrouble } from '../audio/ear';

/** What to say, and what to do, when nothing at all comes in from an open microphone. */
export const MUTE: Problem = {
  title: 'No sound comes in.',
  detail: 'Is the microphone muted, or is another input chosen?',
};

/** What to say, and what to do, when the microphone cannot be heard. */
export const TROUBLES: Record<EarTrouble, Problem> = {
  'none-found': {
    title: 'No microphone found',
    detail: 'Plug one in, or switch on the one in your computer, then try again.',
  },
  refused: {
    title: 'The microphone is not allowed',
    detail:
      'Your browser keeps it from Orexis. Open the settings beside the address, allow the ' +
      'microphone for this page, then try again. The sound stays on this machine.',
  },
  unplugged: {
    title: 'The microphone went away',
    detail: 'Plug it in again, or choose another. What you had played up to then is kept.',
  },
  unusable: {
    title: 'The microphone cannot be used',
    detail: 'Another program may be holding it. Close that program, then try again.',
  },
};
