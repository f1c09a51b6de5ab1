<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, type Schemas } from '../api/client';
  import { offer } from '../parts/keys.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';
  import { iso, monthOf, monthsOn, moved, weeksOf } from './calendar';
  import { dayOf, longDay } from '../parts/dates';
  import DiaryDay from './DiaryDay.svelte';

  /** A month of practice, and what the chosen day had; another day can be set beside it. */
  const player_id = untrack(() => who.current.id);
  const today = iso(new Date());
  const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

  let on = $state(today);
  let beside = $state.raw<Schemas['DiaryPageOut'] | null>(null);

  const numbers = (day: string) => {
    const [year, month, date] = day.split('-').map(Number);
    return { player_id, year: year ?? 0, month: month ?? 0, day: date ?? 0 };
  };
  const month = new Loaded<Schemas['DiaryMonthOut']>((signal) =>
    answer(
      api.GET('/api/players/{player_id}/diary/{year}/{month}', {
        params: { path: numbers(on) },
        signal,
      }),
    ),
  );
  const page = new Loaded<Schemas['DiaryPageOut']>((signal) =>
    answer(
      api.GET('/api/players/{player_id}/diary/{year}/{month}/{day}', {
        params: { path: numbers(on) },
        signal,
      }),
    ),
  );
  void month.load();
  void page.load();

  const days = $derived(new Map(month.value?.days.map((day) => [day.on, day]) ?? []));
  const most = $derived(Math.max(...(month.value?.days.map((day) => day.sounded_s) ?? []), 60));
  const weeks = $derived(weeksOf(month.value?.first ?? monthOf(on)));
  const begins = $derived(month.value?.begins ?? today);

  function choose(day: string) {
    if (day > today || day < monthOf(begins)) return;
    const other = monthOf(day) !== monthOf(on);
    on = day;
    if (other) void month.load();
    void page.load();
  }

  function setBeside() {
    beside = beside ? null : page.value;
  }

  function said(day: string): string {
    const found = days.get(day);
    const parts = [
      longDay(dayOf(day)),
      found?.tries ? `${found.tries} ${found.tries === 1 ? 'try' : 'tries'}` : 'no practice',
      found?.event,
      found?.hurt ? 'something hurt' : '',
      found?.pins ? `${found.pins} pinned` : '',
    ];
    return parts.filter(Boolean).join(', ');
  }

  offer(() => [
    {
      keys: ['ArrowLeft', 'PageUp'],
      shown: '←',
      label: 'day before',
      run: () => choose(moved(on, -1)),
    },
    {
      keys: ['ArrowRight', 'PageDown'],
      shown: '→',
      label: 'next day',
      run: () => choose(moved(on, 1)),
      disabled: on === today,
    },
    {
      keys: ['ArrowUp'],
      shown: '↑',
      label: 'week before',
      run: () => choose(moved(on, -7)),
      quiet: true,
    },
    {
      keys: ['ArrowDown'],
      shown: '↓',
      label: 'week after',
      run: () => choose(moved(on, 7)),
      quiet: true,
    },
    { keys: ['['], shown: '[', label: 'month before', run: () => choose(monthsOn(on, -1)) },
    {
      keys: [']'],
      shown: ']',
      label: 'next month',
      run: () => {
        const next = monthsOn(on, 1);
        choose(next > today ? today : next);
      },
      disabled: monthOf(on) === monthOf(today),
    },
    {
      keys: ['b'],
      shown: 'B',
      label: beside ? 'one day' : 'set it beside another',
      run: setBeside,
      disabled: !page.value,
    },
    { keys: ['r'], shown: 'R', label: 'range', run: () => void push('/progress') },
    {
      keys: ['c'],
      shown: 'C',
      label: 'changes',
      run: () => void push('/progress/changes'),
      quiet: true,
    },
  ]);
</script>

<View
  wide
  problem={month.problem ?? page.problem}
  retry={() => {
    void month.load();
    void page.load();
  }}
>
  {#if month.value}
    <header>
      <h1>{month.value.title}</h1>
      <p class="dim">{month.value.words}</p>
    </header>
    <div class="room">
      <table aria-label={month.value.title}>
        <thead>
          <tr>
            {#each WEEKDAYS as name (name)}<th scope="col">{name}</th>{/each}
          </tr>
        </thead>
        <tbody>
          {#each weeks as week, i (i)}
            <tr>
              {#each week as day, j (j)}
                <td>
                  {#if day}
                    {@const found = days.get(day)}
                    <button
                      class:now={day === on}
                      aria-pressed={day === on}
                      aria-label={said(day)}
                      disabled={day > today}
                      onclick={() => choose(day)}
                    >
                      <span class="number" class:today={day === today}>{Number(day.slice(8))}</span>
                      {#if found?.pins}<span class="pins"
                          >{found.pins} {found.pins === 1 ? 'pin' : 'pins'}</span
                        >{/if}
                      {#if found?.event || found?.hurt}
                        <span class="what">{found.hurt ? 'hurt' : found.event}</span>
                      {/if}
                      {#if found?.tries}
                        <svg viewBox="0 0 100 20" preserveAspectRatio="none" aria-hidden="true">
                          <rect
                            width="100"
                            y={10 - 9 * Math.sqrt(found.sounded_s / most)}
                            height={18 * Math.sqrt(found.sounded_s / most)}
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
      <div class="pages" class:two={beside}>
        {#if beside}<DiaryDay of={beside} />{/if}
        {#if page.value}<DiaryDay of={page.value} />{/if}
      </div>
    </div>
  {/if}
  {#snippet foot()}<span class="dim">the thicker, the longer on the face</span>{/snippet}
</View>

<style>
  header {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 0.2rem 1.6rem;
    padding-block: 1.2rem 0.6rem;
  }

  h1 {
    font-size: clamp(2rem, 4.2vw, 3.2rem);
  }

  .room {
    flex: 1;
    display: grid;
    grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
    gap: 2.4rem;
    align-items: start;
  }

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

  .pins,
  .what {
    position: absolute;
    top: 0.2rem;
    right: 0.3rem;
    font-size: 0.8rem;
    color: var(--dim);
  }

  .what {
    top: auto;
    bottom: 0.1rem;
    left: 0.5rem;
    color: var(--low);
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
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

  .pages.two {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 1.6rem;
  }

  @media (max-width: 900px) {
    .room {
      grid-template-columns: minmax(0, 1fr);
      gap: 1.2rem;
    }

    svg {
      inset: 1.6rem 0 0.3rem;
      height: calc(100% - 1.9rem);
    }

    .pins,
    .what {
      display: none;
    }
  }
</style>
