<script lang="ts">
  import { untrack } from 'svelte';
  import { problemOf, type Problem } from '../api/client';
  import Key from '../parts/Key.svelte';
  import { keepMine, mineOf } from './mine';
  import { offeredTo, type Offered } from './sessions';

  /** The whole sessions there are, to choose one with a key. */
  interface Props {
    playerId: number;
    quiet: boolean;
    found: Offered[];
    onplay: (one: Offered) => void;
    onquiet: () => void;
  }

  let { playerId, quiet, found = $bindable(), onplay, onquiet }: Props = $props();
  let problem = $state.raw<Problem | null>(null);
  let mine = $state.raw(untrack(() => mineOf(playerId)));

  const own = $derived<Offered[]>(
    mine.length && !quiet
      ? [
          {
            title: 'My session',
            kind: 'plan' as const,
            why: 'Put together in the book.',
            exercises: mine,
            minutes: 0,
            left_out: [],
          },
        ]
      : [],
  );

  $effect(() => {
    const before = own;
    offeredTo(playerId, quiet).then(
      (all) => (found = [...all, ...before]),
      (error: unknown) => (problem = problemOf(error)),
    );
  });

  function shorten() {
    mine = mine.slice(0, -1);
    keepMine(playerId, mine);
  }
</script>

<section aria-label="Whole sessions">
  <h2>What shall it be?</h2>
  <p class="dim">
    A session runs by sound alone: it counts in, listens, judges, times the rests and says what is
    next.
  </p>
  {#if problem}<p role="alert">{problem.title}. {problem.detail}</p>{/if}
  <ol>
    {#each found as one, i (one.title)}
      <li>
        <button disabled={!one.exercises.length} onclick={() => onplay(one)}>
          <span class="title">{one.title}</span>
          <span class="dim">
            {#if one.minutes}about {one.minutes} min{/if}
            <Key shown={'ABCDEFGH'[i] ?? ''} />
          </span>
          <span class="why">{one.why}</span>
          <span class="dim made">
            {one.exercises.map(({ title }) => title).join(' · ')}
            {one.left_out.join(' ')}
          </span>
        </button>
      </li>
    {/each}
  </ol>
  <button class="act" aria-pressed={quiet} onclick={onquiet}>
    <Key shown="Q" />quiet hours: mouthpiece alone, <strong>{quiet ? 'on' : 'off'}</strong>
  </button>
  {#if own.length}
    <button class="act" onclick={shorten}>Take the last exercise out of my session</button>
  {:else}
    <p class="dim">Any exercise in the book can be added to a session of your own there (S).</p>
  {/if}
</section>

<style>
  section {
    flex: 1;
    min-height: 0;
    overflow-y: auto;
    padding-block: 0.6rem;
  }

  h2 {
    font-size: clamp(1.9rem, 4vw, 3rem);
  }

  ol {
    margin-block: 0.8rem;
    border-top: 1px solid var(--line);
  }

  li {
    border-bottom: 1px solid var(--line);
  }

  li button {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 0 1.5rem;
    width: 100%;
    padding-block: 0.7rem;
    text-align: left;
  }

  li button:disabled {
    opacity: 0.55;
  }

  .title {
    font-family: var(--font-note);
    font-weight: 700;
    font-size: 1.6rem;
    line-height: 1.2;
  }

  .why {
    font-size: 1.15rem;
  }

  .why,
  .made {
    grid-column: 1 / -1;
  }
</style>
