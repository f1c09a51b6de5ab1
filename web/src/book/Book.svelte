<script lang="ts">
  import { onMount } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, type BookGroup } from '../api/client';
  import { offer } from '../parts/keys.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';

  const player = $derived(who.current);
  const groups = new Loaded<BookGroup[]>(() =>
    answer(
      api.GET('/api/players/{player_id}/book', { params: { path: { player_id: player.id } } }),
    ),
  );

  onMount(() => void groups.load());

  let at = $state(0);
  const keys = $derived((groups.value ?? []).flatMap(({ families }) => families.map((f) => f.key)));

  function go(to: number) {
    at = Math.max(0, Math.min(keys.length - 1, to));
    document.getElementById(`family-${keys[at]}`)?.focus();
  }

  /** The first family of the group after (1) or before (−1) the one that is chosen. */
  function leap(way: number) {
    const starts: number[] = [];
    let count = 0;
    for (const { families } of groups.value ?? []) {
      starts.push(count);
      count += families.length;
    }
    const here = starts.findLastIndex((start) => start <= at);
    go(starts[Math.max(0, Math.min(starts.length - 1, here + way))] ?? 0);
  }

  offer(() => [
    { keys: ['ArrowUp', 'PageUp'], shown: '↑', label: 'before', run: () => go(at - 1) },
    { keys: ['ArrowDown', 'PageDown'], shown: '↓', label: 'next', run: () => go(at + 1) },
    { keys: ['ArrowLeft'], shown: '←', label: 'group before', run: () => leap(-1), quiet: true },
    { keys: ['ArrowRight'], shown: '→', label: 'next group', run: () => leap(1) },
    {
      keys: ['Enter'],
      shown: 'Enter',
      label: 'open',
      run: () => keys[at] && void push(`/book/${keys[at]}`),
    },
  ]);
</script>

<View wide problem={groups.problem} retry={() => groups.load()}>
  <h1>Book</h1>
  <p class="dim">Everything there is to practise, written for this horn.</p>
  <div class="groups">
    {#each groups.value ?? [] as group (group.name)}
      <section aria-label={group.name}>
        <h2>{group.name}</h2>
        <ul>
          {#each group.families as family (family.key)}
            <li class:off={family.refused}>
              <a
                id="family-{family.key}"
                href="#/book/{family.key}"
                onfocus={() => (at = keys.indexOf(family.key))}
              >
                <strong>{family.title}</strong>
                <span>{family.refused || family.why}</span>
              </a>
            </li>
          {/each}
        </ul>
      </section>
    {/each}
  </div>
</View>

<style>
  h1 {
    font-size: clamp(2.2rem, 4.6vw, 3.4rem);
    padding-top: 1.6rem;
  }

  .groups {
    flex: 1;
    columns: 22rem 3;
    column-gap: 2.6rem;
    padding-block: 1rem 2rem;
  }

  section {
    padding-bottom: 1.6rem;
    break-inside: avoid;
  }

  h2 {
    font-size: 1.375rem;
    padding-bottom: 0.3rem;
    break-after: avoid;
  }

  li {
    break-inside: avoid;
    border-top: 1px solid var(--line);
  }

  a {
    display: grid;
    gap: 0.1rem;
    padding-block: 0.5rem;
    min-height: 3rem;
  }

  a:hover strong,
  a:focus-visible strong {
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }

  strong {
    font-family: var(--font-note);
    font-size: 1.25rem;
  }

  span,
  .off strong {
    color: var(--dim);
  }

  .off strong {
    font-weight: 400;
  }
</style>
