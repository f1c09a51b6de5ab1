<script lang="ts">
  import type { Schemas } from '../api/client';
  import { dayOf, fullDay } from '../parts/dates';
  import { theme } from '../parts/theme.svelte';
  import AnswerPicture from '../progress/AnswerPicture.svelte';
  import Tubes from '../progress/Tubes.svelte';
  import { flushSync } from 'svelte';
  import ReportTake from './ReportTake.svelte';
  import type { SaidMark } from './words.svelte';

  /** Some weeks of a player's as they are read, printed, and carried elsewhere. */
  interface Props {
    report: Schemas['ReportOut'];
    soundOf: (takeId: string) => string;
    /** The player's own words, where they are still being written. */
    words?: string;
    marks?: SaidMark[];
    onremove?: (mark: SaidMark) => void;
  }

  let { report, soundOf, words, marks = [], onremove }: Props = $props();

  const takes = $derived([...report.best, ...report.worst]);
  let at = $state(0);
  const shown: Record<string, ReportTake> = {};

  /** The take that is chosen, and where in it one is. */
  export function here(): { takeId: string; atS: number } | null {
    const take = takes[at];
    return take ? { takeId: take.id, atS: shown[take.id]?.hereS() ?? 0 } : null;
  }

  /** Chooses another take, and brings it into sight. */
  export function go(by: number): void {
    at = Math.min(Math.max(at + by, 0), Math.max(takes.length - 1, 0));
    document.getElementById(`take-${takes[at]?.id}`)?.scrollIntoView({ block: 'nearest' });
  }

  /** Plays the chosen take, or stops it. */
  export function toggle(): void {
    shown[takes[at]?.id ?? '']?.toggle();
  }

  const own = $derived((words ?? report.words).trim());
  const told = $derived(report.changes.answers.filter((one) => one.told));
  const untold = $derived(report.changes.answers.filter((one) => !one.told));
  const parts = $derived([
    { name: 'Went best', list: report.best, from: 0 },
    { name: 'Went worst', list: report.worst, from: report.best.length },
  ]);

  /** The ribbons are drawn anew for the paper before it is printed. */
  function paper(printing: boolean) {
    theme.onPaper(printing);
    flushSync();
  }
</script>

<svelte:window onbeforeprint={() => paper(true)} onafterprint={() => paper(false)} />

<article class="report">
  <header>
    <p class="dim">Practice report</p>
    <h1>{report.player}</h1>
    <p class="lead">
      {report.instrument}, {fullDay(dayOf(report.first))} to {fullDay(dayOf(report.last))}.
      {report.summary}
    </p>
  </header>
  {#if own}
    <section aria-label="In their own words" class="own">
      {#each own.split('\n').filter(Boolean) as line, i (i)}<p>{line}</p>{/each}
    </section>
  {/if}
  <section aria-label="Range">
    <h2>{report.range.horn.headline}</h2>
    <p class="dim">{report.range.horn.words}</p>
    {#if report.range.horn.rows.length}
      <Tubes
        headline={report.range.horn.headline}
        rows={report.range.horn.rows}
        notes={report.range.notes}
      />
      <p class="dim">A tube is a week. Thick: secure · thin: held 2 s · line: touched once.</p>
    {/if}
  </section>
  <section aria-label="Changes" class="changes">
    {#each told as one (one.key)}
      <div class="question">
        <h2>{one.question}</h2>
        <p><strong>{one.answer}</strong></p>
        <p class="dim">{one.words}</p>
        <AnswerPicture of={one} marks={report.changes.marks} small />
      </div>
    {/each}
    {#if untold.length}
      <p class="dim untold">
        Too little to tell in these weeks: {untold.map(({ question }) => question).join(' ')}
      </p>
    {/if}
  </section>
  {#each parts as { name, list, from } (name)}
    {#if list.length}
      <section aria-label={name}>
        <h2>{name}</h2>
        {#each list as take, i (take.id)}
          <div id="take-{take.id}">
            <ReportTake
              bind:this={() => shown[take.id], (one) => one && (shown[take.id] = one)}
              {take}
              sound={soundOf(take.id)}
              chosen={at === from + i}
              marks={marks.filter(({ take_id }) => take_id === take.id)}
              onchoose={() => (at = from + i)}
              {onremove}
            />
          </div>
        {/each}
      </section>
    {/if}
  {/each}
  {#if !takes.length}
    <p class="dim">No take of these weeks has its sound.</p>
  {/if}
</article>

<style>
  .report {
    max-width: 68rem;
  }

  h1 {
    font-size: clamp(2.4rem, 5vw, 4rem);
  }

  h2 {
    font-size: clamp(1.4rem, 2.6vw, 1.9rem);
    padding-top: 1.6rem;
  }

  .lead {
    font-size: 1.2rem;
  }

  .own {
    border-left: 3px solid var(--asked);
    padding-left: 1rem;
    margin-top: 1.2rem;
    font-size: 1.25rem;
    max-width: 46rem;
    overflow-wrap: anywhere;
  }

  .changes {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(min(26rem, 100%), 1fr));
    gap: 0 2.4rem;
  }

  .question {
    break-inside: avoid;
  }

  .untold {
    grid-column: 1 / -1;
    padding-top: 1rem;
  }

  @media print {
    h2 {
      break-after: avoid;
    }

    .changes {
      grid-template-columns: 1fr 1fr;
    }
  }
</style>
