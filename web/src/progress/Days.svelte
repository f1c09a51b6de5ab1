<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, type Schemas } from '../api/client';
  import { complain } from '../takes/deletion';
  import { goBack } from '../takes/kept';
  import { offer } from '../parts/keys.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';
  import { iso, monthOf, monthsOn, moved } from '../parts/calendar';
  import DiaryDay from './DiaryDay.svelte';
  import Month from './Month.svelte';
  import OpenBookmarks from './OpenBookmarks.svelte';

  /** A month of practice, and what the chosen day had; another day can be set beside it. */
  const player_id = untrack(() => who.current.id);
  const today = iso(new Date());

  let on = $state(today);
  let beside = $state.raw<Schemas['DiaryPageOut'] | null>(null);
  let besideMonth = $state.raw<Schemas['DiaryMonthOut'] | null>(null);

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

  const bookmarks = new Loaded<Schemas['BookmarkedOut'][]>((signal) =>
    answer(
      api.GET('/api/players/{player_id}/diary/bookmarks', {
        params: { path: { player_id } },
        signal,
      }),
    ),
  );
  void bookmarks.load();

  /** The month, and the one that was set beside it, in order. */
  const months = $derived(
    [besideMonth, month.value]
      .filter((one) => one !== null)
      .filter(({ first }, i, all) => i === 0 || first !== all[0]?.first)
      .sort((a, b) => a.first.localeCompare(b.first)),
  );
  /** Of both months where there are two, so that they can be held against each other. */
  const most = $derived(
    Math.max(...months.flatMap(({ days }) => days.map((day) => day.playing_s)), 60),
  );
  const next = $derived(bookmarks.value?.[0]);
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

  /** Holds this month, and goes to the one before it. */
  function setMonthBeside() {
    besideMonth = besideMonth ? null : month.value;
    if (besideMonth) choose(monthsOn(on, -1));
  }

  async function beenAt(bookmark: Schemas['BookmarkedOut']) {
    try {
      await goBack({ kind: bookmark.kind, id: bookmark.kept_id }, bookmark, true);
      await bookmarks.load();
      await page.load();
    } catch (error) {
      complain(error);
    }
  }

  async function forget(typed_id: number) {
    try {
      const params = { path: { player_id, typed_id } };
      await answer(api.DELETE('/api/players/{player_id}/typed/{typed_id}', { params }));
      await Promise.all([page.load(), month.load()]);
    } catch (error) {
      complain(error);
    }
  }

  offer(() => [
    {
      keys: ['ArrowLeft', 'PageUp'],
      shown: '←',
      label: 'day before',
      run: () => choose(moved(on, -1)),
      swipe: 'right',
    },
    {
      keys: ['ArrowRight', 'PageDown'],
      shown: '→',
      label: 'next day',
      run: () => choose(moved(on, 1)),
      swipe: 'left',
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
    {
      keys: ['m'],
      shown: 'M',
      label: besideMonth ? 'one month' : 'two months',
      run: setMonthBeside,
      disabled: !month.value,
    },
    {
      keys: ['g'],
      shown: 'G',
      label: 'go back to the next bookmark',
      run: () => next && void push(`/${next.kind}/${next.kept_id}?at=${next.at_s}`),
      disabled: !next,
      quiet: true,
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
      <h1>{months.map(({ title }) => title).join(' and ')}</h1>
      {#if months.length < 2}<p class="dim">{month.value.words}</p>{/if}
    </header>
    <div class="room" class:wide={besideMonth}>
      <div class="months" class:two={months.length > 1}>
        {#each months as one (one.first)}
          <div>
            {#if months.length > 1}
              <h2>{one.title}</h2>
              <p class="dim">{one.words}</p>
            {/if}
            <Month of={one} {on} {today} mostS={most} onchoose={choose} />
          </div>
        {/each}
      </div>
      <div class="pages" class:two={beside}>
        {#if beside}<DiaryDay of={beside} />{/if}
        {#if page.value}<DiaryDay of={page.value} onforget={forget} />{/if}
        {#if !beside}<OpenBookmarks
            bookmarks={bookmarks.value ?? []}
            ondone={(bookmark) => void beenAt(bookmark)}
          />{/if}
      </div>
    </div>
  {/if}
  {#snippet foot()}<span class="dim">the thicker, the longer you played</span>{/snippet}
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

  .months.two {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 1.6rem;
  }

  h2 {
    font-size: 1.5rem;
  }

  .room.wide {
    grid-template-columns: minmax(0, 1fr);
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

    .months.two {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
