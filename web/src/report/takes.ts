import type { Schemas } from '../api/client';
import type { Action } from '../parts/keys.svelte';
import { upDown } from '../parts/updown';

/** A report that is shown, of whose takes one is chosen. */
interface Shown {
  go: (by: number) => void;
  toggle: () => void;
}

/** The keys that go through a report's takes and play them. */
export function takeKeys(
  shown: Shown | undefined,
  report: Schemas['ReportOut'] | null,
  quiet = false,
): Action[] {
  const disabled = !report || report.best.length + report.worst.length === 0;
  return [
    ...upDown((by) => shown?.go(by), 'take before', 'next take', {
      disabled,
      quiet: quiet ? 'both' : 'before',
    }),
    {
      keys: [' '],
      shown: 'Space',
      label: 'play or stop',
      run: () => shown?.toggle(),
      disabled,
      quiet,
    },
  ];
}
