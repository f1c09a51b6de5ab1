<script lang="ts">
  import type { PulseBeat } from './pulse';

  /** The bar that is played, a mark a beat, the one that sounds filled; the first is the widest. */
  let { beat }: { beat: PulseBeat | null } = $props();

  const marks = $derived(
    (beat?.groups ?? []).flatMap((beats, group) =>
      Array.from({ length: beats }, (_, at) => ({ first: at === 0, bar: at === 0 && group === 0 })),
    ),
  );
  const silent = $derived(beat?.silent ?? false);
</script>

<div class="beats" class:silent aria-hidden="true">
  {#each marks as { first, bar }, i (i)}
    <span class:first class:bar class:now={!silent && beat?.number === i + 1}></span>
  {/each}
</div>

<style>
  .beats {
    display: flex;
    align-items: end;
    gap: 0.35rem;
    height: 2.6rem;
  }

  span {
    width: 0.8rem;
    height: 40%;
    border: 2px solid var(--dim);
    border-radius: 3px;
  }

  .first {
    height: 70%;
  }

  .bar {
    width: 1.2rem;
    height: 100%;
  }

  .now {
    background: var(--sound);
    border-color: var(--sound);
  }

  .silent span {
    border-style: dotted;
  }
</style>
