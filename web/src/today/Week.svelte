<script lang="ts">
  import type { Schemas } from '../api/client';
  import { dayOf, longDay } from '../parts/dates';

  /** The days about today: hard ones stand tall, easy ones low, and what is coming is outlined. */
  let { days, today }: { days: Schemas['WeekDayOut'][]; today: string } = $props();

  const letter = (on: string) => dayOf(on).toLocaleDateString('en-GB', { weekday: 'narrow' });
</script>

<ol aria-label="The days about today">
  {#each days as { day, kind, words } (day)}
    <li
      class:today={day === today}
      class:coming={day > today}
      title="{longDay(dayOf(day))}: {words}"
    >
      <span class="sr-only">{longDay(dayOf(day))}: {words}</span>
      <span class="bar {kind}" aria-hidden="true"></span>
      <span class="letter" aria-hidden="true">{letter(day)}</span>
    </li>
  {/each}
</ol>

<style>
  ol {
    display: flex;
    gap: 0.3rem;
    align-items: end;
    justify-content: end;
  }

  li {
    display: grid;
    justify-items: center;
    gap: 0.2rem;
    flex: 0 1 1.5rem;
    min-width: 0;
    padding-bottom: 0.15rem;
    border-bottom: 3px solid transparent;
  }

  li.today {
    border-bottom-color: var(--asked);
  }

  .bar {
    display: block;
    width: 0.9rem;
    background: var(--sound);
  }

  .coming .bar {
    background: none;
    border: 2px solid var(--sound);
  }

  .hard {
    height: 3rem;
  }

  .easy {
    height: 1.2rem;
  }

  .rehearsal {
    height: 2.1rem;
  }

  .concert {
    height: 3rem;
    width: 1.3rem;
    border-radius: 0.75rem 0.75rem 0 0;
  }

  .rest,
  .coming .open {
    width: 0.9rem;
    height: 2px;
    border: 0;
    background: var(--dim);
  }

  .letter {
    color: var(--dim);
    font-size: 0.875rem;
    line-height: 1;
  }

  .today .letter {
    color: var(--ink);
    font-weight: 700;
  }
</style>
