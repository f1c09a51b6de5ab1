<script lang="ts">
  import Music from '../parts/Music.svelte';
  import type { FollowedPiece } from './piece.svelte';

  /** The piece that is followed: its music with the note one is at, and the bars that went wrong. */
  let { piece }: { piece: FollowedPiece } = $props();

  const SHOWN = 3;
  const wrong = $derived((piece.place?.wrong ?? []).slice(-SHOWN).reverse());
</script>

{#if piece.own}
  <section aria-label="The piece">
    <div class="head">
      <h2>{piece.own.name}</h2>
      <p class="bar" role="status">
        {piece.place?.bar ? `bar ${piece.place.bar}` : 'begin anywhere'}
      </p>
      <ul aria-label="Bars that went wrong">
        {#each wrong as one (one.bar)}<li><strong>Bar {one.bar}</strong> {one.wrong}</li>{/each}
      </ul>
    </div>
    {#if piece.page}
      <div class="music">
        <Music
          svg={piece.page.svg}
          described={piece.page.described}
          outcomes={piece.place?.steps ?? []}
          at={piece.place?.step ?? null}
          live
        />
      </div>
    {/if}
  </section>
{/if}

<style>
  .head {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 0.2rem 1.6rem;
    border-top: 1px solid var(--line);
    padding-top: 0.5rem;
  }

  h2 {
    font-size: 1.375rem;
  }

  .bar {
    font-size: clamp(1.8rem, 4vw, 2.8rem);
    font-weight: 700;
    line-height: 1.1;
    font-variant-numeric: tabular-nums;
  }

  ul {
    display: flex;
    flex-wrap: wrap;
    gap: 0 1.6rem;
    font-size: 1.25rem;
  }

  .music {
    display: flex;
    flex-direction: column;
    max-height: min(42vh, 30rem);
  }

  .music > :global(*) {
    min-height: 0;
    overflow-y: auto;
  }
</style>
