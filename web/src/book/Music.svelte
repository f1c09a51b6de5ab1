<script lang="ts">
  /** Engraved music, in the colour of the text; `stale` while it is not what is set. */
  interface Props {
    svg: string;
    /** The music in words, for those who do not see it. */
    described: string;
    stale?: boolean;
  }

  let { svg, described, stale = false }: Props = $props();
</script>

<div class="music" class:stale role="img" aria-label={described}>
  <!-- eslint-disable-next-line svelte/no-at-html-tags -- drawn by our own server, without scripts -->
  {@html svg}
</div>

<style>
  .music {
    padding-block: 0.8rem;
    overflow-x: auto;
  }

  .music :global(svg) {
    display: block;
    width: 100%;
    min-width: 40rem;
    height: auto;
    fill: currentColor;
  }

  .music :global(text) {
    font-family: var(--font-text);
    stroke: none;
  }

  .stale {
    opacity: 0.45;
  }
</style>
