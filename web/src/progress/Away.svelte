<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import Key from '../parts/Key.svelte';
  import { offer } from '../parts/keys.svelte';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';

  /** All a player has kept, as files that other programs read. */
  const player = untrack(() => who.current);
  const tables = [
    ['takes', 'A row a try: when, which exercise, what was said of it, how long it sounded.'],
    ['notes', 'A row a note that was asked for, with everything that was measured of it.'],
    ['days', 'A row a day: what was played, how far it went, what you wrote down.'],
  ] as const;
  const forms = ['csv', 'json'] as const;

  let at = $state(0);
  let list = $state<HTMLElement>();

  const address = (name: string, form: string) =>
    `/api/players/${player.id}/tables/${name}.${form}`;

  function save(form: (typeof forms)[number]) {
    list?.querySelector<HTMLAnchorElement>(`[data-at="${at}"] a[data-form="${form}"]`)?.click();
  }

  offer(() => [
    {
      keys: ['ArrowUp', 'PageUp'],
      shown: '↑',
      label: 'before',
      run: () => (at = Math.max(at - 1, 0)),
      quiet: true,
    },
    {
      keys: ['ArrowDown', 'PageDown'],
      shown: '↓',
      label: 'next',
      run: () => (at = Math.min(at + 1, tables.length - 1)),
    },
    { keys: ['c'], shown: 'C', label: 'save as CSV', run: () => save('csv') },
    { keys: ['j'], shown: 'J', label: 'save as JSON', run: () => save('json') },
    { keys: ['Escape'], shown: 'Esc', label: 'to Progress', run: () => void push('/progress') },
  ]);
</script>

<View wide>
  <h1>Carry it elsewhere</h1>
  <p class="dim lead">
    All that {player.name} has kept, on every horn, for a spreadsheet (CSV) or a program (JSON).
  </p>
  <div class="content">
    <ul bind:this={list}>
      {#each tables as [name, words], i (name)}
        <li class:at={i === at} data-at={i}>
          <div>
            <h2>{name}</h2>
            <p class="dim">{words}</p>
          </div>
          {#each forms as form (form)}
            <a class="act" href={address(name, form)} data-form={form} download>
              {#if i === at}<Key shown={form === 'csv' ? 'C' : 'J'} />{/if}{form.toUpperCase()}
              <span class="hidden">of {name}</span>
            </a>
          {/each}
        </li>
      {/each}
    </ul>
    <p class="dim lead">
      To keep all of it safe, sound included, run <code>orexis backup</code> in a terminal; Orexis keeps
      copies by itself as well, once a day.
    </p>
  </div>
</View>

<style>
  h1 {
    font-size: clamp(2.2rem, 4.4vw, 3.4rem);
    padding-block: 1.6rem 0.4rem;
  }

  h2 {
    font-size: 1.6rem;
  }

  .content {
    flex: 1;
  }

  .lead {
    font-size: 1.15rem;
    max-width: 46rem;
    padding-bottom: 1.2rem;
  }

  li {
    display: grid;
    grid-template-columns: minmax(0, 46rem) 7rem 7rem;
    gap: 1rem;
    align-items: center;
    border-top: 1px solid var(--line);
    border-left: 3px solid transparent;
    padding: 0.7rem 0.9rem;
  }

  li.at {
    border-left-color: var(--sound);
    background: var(--sheet);
  }

  ul {
    margin-bottom: 1.6rem;
  }

  .hidden {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }

  @media (max-width: 700px) {
    li {
      grid-template-columns: 1fr 1fr;
    }

    li > div {
      grid-column: 1 / -1;
    }
  }
</style>
