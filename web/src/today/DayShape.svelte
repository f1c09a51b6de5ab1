<script lang="ts">
  import { pieces } from './shape';
  import type { DayBlock } from './today.svelte';

  /** The day at a glance: how long and how hard each block is. */
  interface Props {
    blocks: DayBlock[];
    chosen: number;
    onchoose: (block: number) => void;
  }

  let { blocks, chosen, onchoose }: Props = $props();

  const HEIGHT = 100;
  let width = $state(1000);
  const found = $derived(
    pieces(
      blocks.map(({ all_minutes, weight }) => ({ minutes: all_minutes, weight })),
      width,
      HEIGHT,
    ),
  );
  const words = $derived(
    blocks.map(({ title, all_minutes }) => `${title} ${all_minutes} min`).join(', '),
  );
</script>

<div class="shape" bind:clientWidth={width}>
  <svg
    role="img"
    aria-label="The day: {words}"
    viewBox="0 0 {width} {HEIGHT}"
    height={HEIGHT}
    preserveAspectRatio="none"
  >
    {#each found as piece, i (i)}
      <!-- The list below does the same by keys. -->
      <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
      <path d={piece.path} class:chosen={i === chosen} onclick={() => onchoose(i)} />
    {/each}
  </svg>
</div>

<style>
  .shape {
    padding-block: 0.4rem;
  }

  svg {
    display: block;
    width: 100%;
  }

  path {
    fill: var(--sound);
    cursor: pointer;
  }

  path.chosen {
    fill: var(--asked);
  }

  @media (max-width: 760px) {
    svg {
      height: 96px;
    }
  }

  /* So that all of the day is seen on a low screen. */
  @media (min-width: 761px) and (max-height: 860px) {
    svg {
      height: 64px;
    }
  }
</style>
