<script lang="ts">
  import { push } from 'svelte-spa-router';
  import type { Passage, Piece } from '../api/client';
  import { handOver } from '../stand/handed';
  import { OpenExercise } from './page.svelte';

  /** A piece as it was played, bar by bar, and what to practise of it by itself. */
  interface Props {
    piece: Piece;
    playerId: number;
    /** What it is of: one recording, or all of them. */
    label: string;
  }

  let { piece, playerId, label }: Props = $props();

  const wrong = $derived(piece.bars.filter((one) => one.is_played && one.wrong));
  const about = (one: Piece['bars'][number]) =>
    [one.often, one.wrong || 'good'].filter(Boolean).join(': ');

  /** Opens some bars as an exercise of their own. */
  function practise({ back_into_it: [slower] }: Passage) {
    if (!slower) return;
    OpenExercise.set(playerId, slower.family, slower.values);
    void push(`/book/${slower.family}`);
  }

  /** Plays some bars until they lead back into the piece. */
  function leadBack({ title, back_into_it }: Passage) {
    handOver({ title, kind: 'plan', exercises: back_into_it });
    void push('/stand');
  }
</script>

<section aria-label={label}>
  <h2>{piece.headline}</h2>
  <ol class="strip" aria-label="Its bars">
    {#each piece.bars as one (one.bar)}
      <li class:wrong={one.needs_work} class:unplayed={!one.is_played} title={about(one)}>
        <span class="sr-only">Bar {one.bar}: {about(one)}</span>
        <span aria-hidden="true">{one.bar}</span>
      </li>
    {/each}
  </ol>
  {#if wrong.length}
    <ul>
      {#each wrong as one (one.bar)}
        <li>
          <strong>Bar {one.bar}</strong>
          {#if one.often}<span class="dim">wrong {one.often}, last</span>{/if}
          {one.wrong}
        </li>
      {/each}
    </ul>
  {/if}
  {#if piece.passages.length}
    <h3>Practise by itself</h3>
    <ul class="passages">
      {#each piece.passages as one (one.words)}
        <li>
          <button class="act underlined" onclick={() => practise(one)}
            >{one.words}{one.bpm ? `, at ${one.bpm} beats a minute` : ''}</button
          >
          <button class="act underlined" onclick={() => leadBack(one)}
            >slower, at tempo, then with the bars beside</button
          >
        </li>
      {/each}
    </ul>
  {/if}
</section>

<style>
  section {
    padding-block: 0.6rem 1rem;
  }

  h2 {
    font-size: 1.7rem;
  }

  .strip {
    display: flex;
    flex-wrap: wrap;
    gap: 0.25rem;
    padding-block: 0.6rem;
  }

  .strip li {
    min-width: 2.2rem;
    padding: 0.25rem 0.4rem;
    text-align: center;
    border-bottom: 4px solid var(--asked);
    background: var(--asked-tint);
  }

  .strip .unplayed {
    border-bottom-color: var(--line);
    background: none;
    color: var(--dim);
  }

  .strip .wrong {
    border-bottom-color: var(--high);
    background: none;
    font-weight: 700;
  }

  h3 {
    font-size: 1.125rem;
    padding-top: 0.6rem;
  }

  .passages li {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0 1.2rem;
  }
</style>
