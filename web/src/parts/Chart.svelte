<script lang="ts">
  import type { Snippet } from 'svelte';

  /** The frame of a picture drawn by hand: as wide as there is room for, and in words. */
  interface Props {
    /** What is seen, for those who do not see it. */
    label: string;
    width: number;
    height: number;
    children: Snippet;
    onclick?: (event: MouseEvent) => void;
  }

  let { label, width = $bindable(), height, children, onclick }: Props = $props();
</script>

<div bind:clientWidth={width}>
  <!-- Whatever is chosen by a click is chosen by keys as well. -->
  <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_noninteractive_element_interactions -->
  <svg
    role="img"
    aria-label={label}
    viewBox="0 0 {width} {height}"
    {height}
    class:chosen={onclick}
    {onclick}
  >
    {@render children()}
  </svg>
</div>

<style>
  svg {
    display: block;
    width: 100%;
  }

  svg.chosen {
    cursor: pointer;
  }

  svg :global(.scale) {
    stroke: var(--line);
  }

  svg :global(.near) {
    fill: var(--asked-tint);
  }

  svg :global(text) {
    fill: var(--dim);
    font-size: 15px;
    font-variant-numeric: tabular-nums;
  }

  svg :global(text.name) {
    fill: var(--ink);
  }

  /* Narrower on paper than it was drawn, and as much lower. */
  @media print {
    svg {
      height: auto;
    }
  }
</style>
