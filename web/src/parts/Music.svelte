<script lang="ts">
  import type { StepOutcome } from '../api/client';

  /** Engraved music, in the colour of the text; `stale` while it is not what is set. Notes show how
   * they went, and the one of step `at` is marked and kept in view. */
  interface Props {
    svg: string;
    /** The music in words, for those who do not see it. */
    described: string;
    stale?: boolean;
    outcomes?: StepOutcome[];
    at?: number | null;
  }

  let { svg, described, stale = false, outcomes = [], at = null }: Props = $props();

  /** Puts the drawing in as what it is, an XML tree: as HTML, it could be read as something else. */
  function draw(into: HTMLElement) {
    const root = new DOMParser().parseFromString(svg, 'image/svg+xml').documentElement;
    if (root instanceof SVGElement) into.replaceChildren(document.importNode(root, true));
  }

  let box = $state<HTMLElement>();
  let width = $state(0);
  /** Music that is wider than there is room for can be moved by the arrow keys. */
  const moves = $derived.by(() => {
    void svg;
    return box !== undefined && width > 0 && box.scrollWidth > width;
  });

  $effect(() => {
    // With the music, since new music has no marks yet.
    void svg;
    const went = new Map(outcomes.map(({ step, outcome }) => [step, outcome]));
    for (const note of box?.querySelectorAll('[id^="step-"]') ?? []) {
      const step = Number(note.id.slice('step-'.length));
      for (const outcome of ['met', 'missed', 'silent'] as const) {
        note.classList.toggle(outcome, went.get(step) === outcome);
      }
      note.classList.toggle('at', step === at);
    }
    if (at === null || !box) return;
    const here = box.querySelector(`#step-${at}`)?.getBoundingClientRect();
    const frame = box.getBoundingClientRect();
    if (here && (here.top < frame.top || here.bottom > frame.bottom)) {
      box.scrollTop += here.top - frame.top - frame.height / 3;
    }
  });
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
  bind:this={box}
  bind:clientWidth={width}
  class="music"
  class:stale
  role="img"
  aria-label={described}
  tabindex={moves ? 0 : undefined}
>
  {#key svg}<div class="drawing" {@attach draw}></div>{/key}
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

  .music :global(.met) {
    color: var(--asked);
    fill: var(--asked);
    stroke: var(--asked);
  }

  .music :global(.missed),
  .music :global(.silent) {
    color: var(--high);
    fill: var(--high);
    stroke: var(--high);
  }

  .music :global(.silent) {
    opacity: 0.55;
  }

  .music :global(.at) {
    color: var(--sound);
    fill: var(--sound);
    stroke: var(--sound);
  }

  .stale {
    opacity: 0.45;
  }
</style>
