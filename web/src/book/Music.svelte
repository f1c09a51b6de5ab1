<script lang="ts">
  /** Engraved music, in the colour of the text; `stale` while it is not what is set. The notes of
   * `missed` steps are marked. */
  interface Props {
    svg: string;
    /** The music in words, for those who do not see it. */
    described: string;
    stale?: boolean;
    missed?: number[];
  }

  let { svg, described, stale = false, missed = [] }: Props = $props();

  let box = $state<HTMLElement>();

  $effect(() => {
    // With the music, since new music has no marks yet.
    void svg;
    for (const note of box?.querySelectorAll('[id^="step-"]') ?? []) {
      note.classList.toggle('missed', missed.includes(Number(note.id.slice('step-'.length))));
    }
  });
</script>

<div bind:this={box} class="music" class:stale role="img" aria-label={described}>
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

  .music :global(.missed) {
    color: var(--high);
    fill: var(--high);
    stroke: var(--high);
  }

  .stale {
    opacity: 0.45;
  }
</style>
