<script lang="ts">
  import { onMount } from 'svelte';
  import { push } from 'svelte-spa-router';
  import {
    answer,
    api,
    problemOf,
    type BookGroup,
    type MelodyPart,
    type OwnExercise,
    type Problem,
  } from '../api/client';
  import { known } from '../api/fields.svelte';
  import FileButton from '../parts/FileButton.svelte';
  import Key from '../parts/Key.svelte';
  import { offer } from '../parts/keys.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import Opening from '../parts/Opening.svelte';
  import { upDown } from '../parts/updown';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';
  import Finder from './Finder.svelte';
  import { ANYTHING, found, isAnything, type Section } from './finding';
  import { ownExercises, readMelody } from './own';
  import { OpenExercise } from './page.svelte';

  const player = $derived(who.current);
  const groups = new Loaded<BookGroup[]>(() =>
    answer(
      api.GET('/api/players/{player_id}/book', { params: { path: { player_id: player.id } } }),
    ),
  );

  const own = new Loaded<OwnExercise[]>((signal) => ownExercises(player.id, signal));

  onMount(() => {
    void groups.load();
    void own.load();
  });

  /** What the player keeps first, then everything there is. */
  const everything = $derived<Section[]>([
    ...(own.value?.length
      ? [
          {
            name: 'yours',
            entries: own.value.map((one) => ({
              path: `/own/${one.id}`,
              title: one.name,
              words: one.title,
              not: one.refused,
              off: one.refused !== '',
              family: one.family,
              values: one.values,
              facts: [],
              register: null,
              minutes: 0,
            })),
          },
        ]
      : []),
    ...(groups.value ?? []).map((group) => ({
      name: group.name,
      entries: group.families.map((one) => ({
        path: `/book/${one.key}`,
        title: one.title,
        words: one.why,
        not: one.refused || one.not_today,
        off: one.refused !== '',
        family: one.key,
        values: one.values,
        facts: [one.place, one.needs, one.played].filter(Boolean),
        register: one.register_name,
        minutes: one.minutes,
      })),
    })),
  ]);

  let finder = $state<Finder>();
  let sought = $state({ ...ANYTHING });
  const chosen = $derived(!isAnything(sought));
  const sections = $derived(found(everything, sought));

  function findAll() {
    sought = { ...ANYTHING };
  }

  let at = $state(0);
  const paths = $derived(sections.flatMap(({ entries }) => entries.map(({ path }) => path)));

  let chooser = $state<FileButton>();
  let parts = $state.raw<MelodyPart[]>([]);
  let refused = $state.raw<Problem | null>(null);

  async function bringIn(file: File) {
    refused = null;
    parts = [];
    try {
      parts = await readMelody(player.id, file);
    } catch (error) {
      refused = problemOf(error);
    }
  }

  /** Opens a part as an exercise; the page goes on from there. */
  function take({ family, values }: MelodyPart) {
    OpenExercise.set(player.id, family, values);
    void push(`/book/${family}`);
  }

  function go(to: number) {
    at = Math.max(0, Math.min(paths.length - 1, to));
    document.getElementById(`entry${paths[at]}`)?.focus();
  }

  /** The first family of the group after (1) or before (−1) the one that is chosen. */
  function leap(way: number) {
    const starts: number[] = [];
    let count = 0;
    for (const { entries } of sections) {
      starts.push(count);
      count += entries.length;
    }
    const here = starts.findLastIndex((start) => start <= at);
    go(starts[Math.max(0, Math.min(starts.length - 1, here + way))] ?? 0);
  }

  offer(() => [
    ...upDown((by) => go(at + by), 'before', 'next', { quiet: 'none' }),
    { keys: ['ArrowLeft'], shown: '←', label: 'group before', run: () => leap(-1), quiet: true },
    { keys: ['ArrowRight'], shown: '→', label: 'next group', run: () => leap(1) },
    {
      keys: ['Enter'],
      shown: 'Enter',
      label: 'open',
      run: () => void push(paths[at] ?? '/book'),
    },
    {
      keys: ['n'],
      shown: 'N',
      label: 'write your own',
      run: () => void push(`/book/${known.fields.own_line}`),
    },
    { keys: ['i'], shown: 'I', label: 'bring a melody in', run: () => chooser?.open() },
    { keys: ['/'], shown: '/', label: 'find', run: () => finder?.focus() },
    ...(chosen ? [{ keys: ['Escape'], shown: 'Esc', label: 'all of it', run: findAll }] : []),
  ]);
</script>

<View wide problem={groups.problem} retry={() => groups.load()}>
  <header>
    <h1>Book</h1>
    <p class="dim">Everything there is to practise, written for this horn.</p>
    <span class="bring">
      <FileButton
        bind:this={chooser}
        label="A melody"
        accept=".musicxml,.mxl,.xml,.mid,.midi"
        onchoose={([file]) => file && void bringIn(file)}
      >
        <Key shown="I" />Bring a melody in
      </FileButton>
    </span>
  </header>
  {#if refused}
    <p role="alert"><strong>{refused.title}.</strong> {refused.detail}</p>
  {/if}
  {#if parts.length}
    <section class="parts" aria-label="Its parts">
      <h2>Which part?</h2>
      <ul>
        {#each parts as part, i (i)}
          <li>
            <button class="act" disabled={part.refused !== ''} onclick={() => take(part)}>
              <strong>{part.name}</strong>
              <span
                >{part.notes}, {part.lowest} to {part.highest}{part.moved &&
                  `, ${part.moved}`}</span
              >
            </button>
            {#if part.refused}<span class="dim">{part.refused}</span>{/if}
          </li>
        {/each}
      </ul>
    </section>
  {/if}
  <Finder bind:this={finder} bind:sought {everything} />
  {#if chosen && !sections.length}
    <p role="status">
      Nothing in the book is like that.
      <button class="act" onclick={findAll}>Show all of it</button>
    </p>
  {/if}
  <div class="groups">
    {#each sections as section (section.name)}
      <section aria-label={section.name}>
        <h2>{section.name}</h2>
        <ul>
          {#each section.entries as entry (entry.path)}
            <li class:off={entry.not !== ''}>
              <a
                id="entry{entry.path}"
                href="#{entry.path}"
                onfocus={() => (at = paths.indexOf(entry.path))}
              >
                <span class="what">
                  <strong>{entry.title}</strong>
                  {#if entry.not}
                    <span>{entry.not}</span>
                  {:else}
                    <span>{entry.facts.join(' · ') || entry.words}</span>
                  {/if}
                </span>
                {#if !entry.off}
                  <Opening playerId={player.id} family={entry.family} values={entry.values} />
                {/if}
              </a>
            </li>
          {/each}
        </ul>
      </section>
    {/each}
  </div>
</View>

<style>
  header {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 0.2rem 1.4rem;
    padding-top: 1.6rem;
  }

  h1 {
    font-size: clamp(2.2rem, 4.6vw, 3.4rem);
  }

  .bring {
    margin-left: auto;
  }

  .parts {
    padding-top: 1rem;
  }

  .parts li {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 0.2rem 1.2rem;
  }

  .groups {
    flex: 1;
    columns: 30rem 2;
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
    grid-template-columns: minmax(11rem, 1fr) minmax(0, 1.1fr);
    align-items: center;
    gap: 0.1rem 1.2rem;
    padding-block: 0.4rem;
    min-height: 3rem;
  }

  .off a {
    grid-template-columns: 1fr;
  }

  .off a:has(:global(.opening)) {
    grid-template-columns: minmax(11rem, 1fr) minmax(0, 1.1fr);
  }

  .what {
    display: grid;
    gap: 0.1rem;
  }

  @media (max-width: 760px) {
    a,
    .off a:has(:global(.opening)) {
      grid-template-columns: 1fr;
    }
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

  .what > span,
  .parts span,
  .off strong {
    color: var(--dim);
  }

  .off strong {
    font-weight: 400;
  }
</style>
