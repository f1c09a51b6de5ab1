<script lang="ts">
  import type { Schemas } from '../api/client';
  import { dayOf } from '../parts/dates';
  import { weeksOf } from '../parts/calendar';

  /** A month of days: the thicker, the longer you played. */
  interface Props {
    of: Schemas['DiaryMonthOut'];
    /** The day that is chosen, which may be in another month. */
    on: string;
    today: string;
    /** What is as thick as can be, in seconds. */
    mostS: number;
    onchoose: (day: string) => void;
  }

  let { of, on, today, mostS, onchoose }: Props = $props();

  const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
  const days = $derived(new Map(of.days.map((day) => [day.on, day])));
  /** What was written down elsewhere is no time of playing that was heard: it is there, and not as
   * thick as it is long. */
  const TYPED = 0.4;
  const thick = (day: Schemas['DiaryDayOut']) =>
    day.playing_s ? Math.sqrt(Math.min(day.playing_s / mostS, 1)) : TYPED;

  /** Whole minutes of playing. */
  function minutes(seconds: number): string {
    return seconds < 60 ? '< 1' : String(Math.round(seconds / 60));
  }

  /** What is read out of a day beside its number and what else is seen of it. */
  function said(day: string): string {
    const found = days.get(day);
    const month = dayOf(day).toLocaleDateString('en-GB', { month: 'long' });
    const parts = [
      month,
      found?.attempts ? `${found.attempts} ${found.attempts === 1 ? 'attempt' : 'attempts'}` : '',
      found?.playing_s ? `${minutes(found.playing_s)} min of playing` : 'no practice',
      found?.typed_min ? `${Math.round(found.typed_min)} min written down` : '',
    ];
    return parts.filter(Boolean).join(', ');
  }
</script>

<table aria-label={of.title}>
  <thead>
    <tr>
      {#each WEEKDAYS as name (name)}<th scope="col">{name}</th>{/each}
    </tr>
  </thead>
  <tbody>
    {#each weeksOf(of.first) as week, i (i)}
      <tr>
        {#each week as day, j (j)}
          <td>
            {#if day}
              {@const found = days.get(day)}
              <button
                class:now={day === on}
                aria-pressed={day === on}
                disabled={day > today}
                onclick={() => onchoose(day)}
              >
                <span class="number" class:today={day === today}>{Number(day.slice(8))}</span>
                <span class="sr-only"> {said(day)} </span>
                {#if found?.playing_s}
                  <span class="time" aria-hidden="true">{minutes(found.playing_s)} min</span>
                {/if}
                <span class="under">
                  {#if found?.event || found?.hurt}
                    <span class="what">{found.hurt ? 'hurt' : found.event}</span>
                  {/if}
                  {#if found?.bookmarks}
                    <span>{found.bookmarks} {found.bookmarks === 1 ? 'bookmark' : 'bookmarks'}</span
                    >
                  {/if}
                </span>
                {#if found?.playing_s || found?.typed_min}
                  <svg viewBox="0 0 100 20" preserveAspectRatio="none" aria-hidden="true">
                    <rect
                      class:typed={!found.playing_s}
                      width="100"
                      y={10 - 9 * thick(found)}
                      height={18 * thick(found)}
                    />
                  </svg>
                {/if}
              </button>
            {/if}
          </td>
        {/each}
      </tr>
    {/each}
  </tbody>
</table>

<style>
  table {
    width: 100%;
    table-layout: fixed;
    border-collapse: collapse;
  }

  th {
    color: var(--dim);
    font-weight: 400;
    text-align: left;
    padding: 0 0 0.3rem 0.5rem;
  }

  td {
    border-top: 1px solid var(--line);
    padding: 0;
  }

  button {
    position: relative;
    display: block;
    width: 100%;
    height: clamp(48px, 10.4vh, 84px);
    padding: 0.2rem 0.5rem;
    text-align: left;
    border-left: 3px solid transparent;
    cursor: pointer;
  }

  button:disabled {
    opacity: 0.45;
    cursor: default;
  }

  button.now {
    border-left-color: var(--asked);
    background: var(--sheet);
  }

  .number {
    position: absolute;
    top: 0.15rem;
    left: 0.5rem;
    font-variant-numeric: tabular-nums;
  }

  .number.today {
    font-weight: 700;
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }

  .time {
    position: absolute;
    top: 0.3rem;
    right: 0.3rem;
    font-size: 0.75rem;
    font-weight: 400;
    color: var(--dim);
    white-space: nowrap;
  }

  .under {
    position: absolute;
    inset: auto 0.3rem 0.1rem 0.5rem;
    display: flex;
    gap: 0.4rem;
    font-size: 0.8rem;
    color: var(--dim);
    white-space: nowrap;
  }

  .under span {
    overflow: hidden;
    text-overflow: ellipsis;
  }

  .what {
    color: var(--low);
  }

  svg {
    position: absolute;
    inset: 1.9rem 0 1.2rem;
    width: 100%;
    height: calc(100% - 3.1rem);
  }

  rect {
    fill: var(--sound);
  }

  rect.typed {
    fill: none;
    stroke: var(--sound);
    vector-effect: non-scaling-stroke;
  }

  @media (max-width: 900px) {
    svg {
      inset: 1.6rem 0 1.2rem;
      height: calc(100% - 2.8rem);
    }

    .time {
      top: auto;
      bottom: 0.1rem;
      right: auto;
      left: 0.2rem;
    }

    /* There is no room to see them; they are still read out. */
    .under {
      opacity: 0;
    }
  }
</style>
