<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, problemOf, type Problem, type Take } from '../api/client';
  import Foot from '../parts/Foot.svelte';
  import Notice from '../parts/Notice.svelte';
  import NoteName from '../parts/NoteName.svelte';
  import { bringBack, deleteTake } from '../state/deletion';
  import { offer } from '../state/keys.svelte';
  import { record } from '../state/record.svelte';
  import { who } from '../state/who.svelte';
  import { byDay, clock } from './days';

  const player = $derived(who.current);

  const PAGE = 50;

  let takes = $state.raw<Take[]>([]);
  let loaded = $state(false);
  let more = $state(false);
  let problem = $state.raw<Problem | null>(null);
  let at = $state(0);
  let ear = $state('');

  const days = $derived(byDay(takes, new Date()));

  async function load(before?: string) {
    try {
      const found = await answer(
        api.GET('/api/players/{player_id}/takes', {
          params: { path: { player_id: player.id }, query: { count: PAGE, before } },
        }),
      );
      takes = before ? [...takes, ...found] : found;
      more = found.length === PAGE;
      const heard = await answer(
        api.GET('/api/players/{player_id}/ear', { params: { path: { player_id: player.id } } }),
      );
      ear = heard.words;
      loaded = true;
      problem = null;
    } catch (error) {
      problem = problemOf(error);
    }
  }

  $effect(() => {
    void record.version;
    void untrack(load);
  });

  function go(to: number) {
    at = Math.max(0, Math.min(takes.length - 1, to));
    document.getElementById(`take-${takes[at]?.id}`)?.focus();
  }

  async function remove() {
    const take = takes[at];
    if (!take || !(await deleteTake(take.id, () => void load()))) return;
    takes = takes.filter(({ id }) => id !== take.id);
    go(at);
  }

  const number = (take: Take, rule: string) =>
    take.verdict.rules.find((line) => line.rule === rule);

  offer(() => [
    {
      keys: ['ArrowUp', 'PageUp'],
      shown: '↑',
      label: 'newer',
      run: () => go(at - 1),
      disabled: !takes.length,
    },
    {
      keys: ['ArrowDown', 'PageDown'],
      shown: '↓',
      label: 'older',
      run: () => go(at + 1),
      disabled: !takes.length,
    },
    {
      keys: ['Enter'],
      shown: 'Enter',
      label: 'open',
      run: () => void push(`/takes/${takes[at]?.id}`),
      disabled: !takes.length,
    },
    {
      keys: ['Delete', 'Backspace'],
      shown: 'Delete',
      label: 'delete',
      run: () => void remove(),
      disabled: !takes.length,
    },
    { keys: ['z'], shown: 'Z', label: 'bring back', run: () => void bringBack() },
  ]);
</script>

<div class="view">
  <h1>{player.name}’s takes</h1>
  {#if takes.length && ear}<p class="ear dim">{ear}</p>{/if}
  <div class="list">
    {#if problem}
      <Notice title={problem.title} detail={problem.detail}>
        <button class="act-main" onclick={() => load()}>Try again</button>
      </Notice>
    {:else if loaded && !takes.length}
      <Notice
        title="Nothing played yet"
        detail="Every try on the Stand is kept here as you play it: its sound, its measures and its verdict."
      >
        <a class="act-main" href="#/stand">Go to the Stand</a>
      </Notice>
    {/if}
    {#each days as day (day.name)}
      <section aria-label={day.name}>
        <h2>{day.name}</h2>
        <ul>
          {#each day.takes as take (take.id)}
            {@const index = takes.indexOf(take)}
            <li>
              <a
                id="take-{take.id}"
                href="#/takes/{take.id}"
                class:at={index === at}
                onfocus={() => (at = index)}
              >
                <span class="clock dim">{clock(take.started_at)}</span>
                <span class="name"><NoteName name={take.asked_name} /></span>
                <span class="said" class:go={take.verdict.stands}>
                  {#if take.verdict.overruled_passed === null}{take.verdict.headline}
                  {:else}You said {take.verdict.stands ? 'go on' : 'again'}.{/if}
                </span>
                {#each ['centre', 'steady', 'held'] as rule (rule)}
                  {@const line = number(take, rule)}
                  {#if line}
                    <span class="number">
                      <span class="dim">{rule}</span> <strong>{line.words}</strong>
                      <span class="dim unit">{line.unit}</span>
                    </span>
                  {/if}
                {/each}
              </a>
            </li>
          {/each}
        </ul>
      </section>
    {/each}
    {#if more}
      <button class="act" onclick={() => load(takes.at(-1)?.started_at)}>Older takes</button>
    {/if}
  </div>
  <Foot />
</div>

<style>
  .view {
    display: flex;
    flex-direction: column;
    height: 100%;
    padding-inline: 2.4rem;
  }

  h1 {
    font-size: clamp(2.2rem, 4.6vw, 3.4rem);
    padding-block: 1.6rem 0.6rem;
  }

  h2 {
    font-size: 1.375rem;
    padding-block: 1.3rem 0.5rem;
  }

  .list {
    flex: 1;
    overflow-y: auto;
    min-height: 0;
    padding: 0 6px 1rem;
    margin-inline: -6px;
  }

  li {
    border-top: 1px solid var(--line);
  }

  a:not(.act-main) {
    display: grid;
    grid-template-columns: 4rem 6.2rem minmax(13rem, 1.5fr) repeat(3, minmax(8.8rem, 1fr));
    align-items: center;
    gap: 1rem;
    min-height: 3.6rem;
    padding-inline: 0.7rem;
    margin-inline: -0.7rem;
    border-left: 3px solid transparent;
  }

  a.at {
    border-left-color: var(--sound);
    background: var(--sheet);
  }

  .name {
    font-size: 1.9rem;
  }

  .said {
    font-size: 1.2rem;
    font-weight: 700;
  }

  .said.go {
    color: var(--asked);
  }

  .number {
    white-space: nowrap;
  }

  .unit {
    font-size: 0.9375rem;
  }

  @media (max-width: 1000px) {
    .view {
      padding-inline: 1rem;
    }

    a:not(.act-main) {
      grid-template-columns: 3.6rem 4.6rem 1fr;
      gap: 0.1rem 0.7rem;
      padding-block: 0.5rem;
    }

    .number {
      font-size: 0.9375rem;
      grid-row: 2;
    }

    .unit {
      display: none;
    }

    .number:nth-of-type(4) {
      grid-column: 1 / span 2;
    }
  }
</style>
