<script lang="ts">
  import type { Piece } from '../api/client';

  /** A piece as it was played, bar by bar, and what to practise of it by itself. */
  interface Props {
    piece: Piece;
    onpractise: (passage: Piece['passages'][number]) => void;
  }

  let { piece, onpractise }: Props = $props();

  const wrong = $derived(piece.bars.filter((one) => one.wrong));
</script>

<section aria-label="Bar by bar">
  <h2>{piece.headline}</h2>
  <ol class="strip" aria-label="Its bars">
    {#each piece.bars as one (one.bar)}
      <li class:wrong={one.wrong !== ''} title={one.wrong || 'good'}>
        <span class="sr-only">Bar {one.bar}: {one.wrong || 'good'}</span>
        <span aria-hidden="true">{one.bar}</span>
      </li>
    {/each}
  </ol>
  {#if wrong.length}
    <ul>
      {#each wrong as one (one.bar)}<li><strong>Bar {one.bar}</strong> {one.wrong}</li>{/each}
    </ul>
  {/if}
  {#if piece.passages.length}
    <p class="passages">
      Practise by itself:
      {#each piece.passages as one (one.first_bar)}
        <button class="act underlined" onclick={() => onpractise(one)}>
          {one.first_bar === one.last_bar
            ? `bar ${one.first_bar}`
            : `bars ${one.first_bar} and ${one.last_bar}`}{one.bpm
            ? `, at ${one.bpm} beats a minute`
            : ''}
        </button>
      {/each}
    </p>
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

  .strip .wrong {
    border-bottom-color: var(--high);
    background: none;
    font-weight: 700;
  }

  .passages {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0 1.2rem;
    padding-top: 0.4rem;
  }
</style>
