<script lang="ts">
  import type { StepOutcome } from '../api/client';

  /** Engraved music, in the colour of the text; `stale` while it is not what is set. Notes show how
   * they went, and the one of step `at` is marked and kept in view. Where it is to `fill`, what is
   * drawn is as large as its room allows. */
  interface Props {
    svg: string;
    /** The music in words, for those who do not see it. */
    described: string;
    stale?: boolean;
    outcomes?: StepOutcome[];
    at?: number | null;
    fill?: boolean;
    /** It is being played: where one is stays in view, whatever went wrong before. */
    live?: boolean;
  }

  let {
    svg,
    described,
    stale = false,
    outcomes = [],
    at = null,
    fill = false,
    live = false,
  }: Props = $props();

  const MARGIN = 12;
  /** What is no higher than this share of its paper's width is one line of music. */
  const ONE_LINE = 0.3;
  let oneLine = $state(false);

  /** Puts the drawing in as what it is, an XML tree: as HTML, it could be read as something else. */
  function draw(into: HTMLElement) {
    const root = new DOMParser().parseFromString(svg, 'image/svg+xml').documentElement;
    if (!(root instanceof SVGElement)) return;
    const drawing = document.importNode(root, true);
    into.replaceChildren(drawing);
    if (fill && drawing instanceof SVGSVGElement) cut(drawing);
  }

  /** Cuts the empty paper off, so that few notes are drawn large. */
  function cut(drawing: SVGSVGElement) {
    const { x, y, width, height } = drawing.getBBox();
    if (!width || !height) return;
    const paper = drawing.viewBox.baseVal;
    oneLine = height < ONE_LINE * paper.width;
    // What lies inside keeps the size it has on the whole paper.
    drawing.querySelector('svg')?.setAttribute('width', String(paper.width));
    drawing.querySelector('svg')?.setAttribute('height', String(paper.height));
    const box = [x - MARGIN, y - MARGIN, width + 2 * MARGIN, height + 2 * MARGIN];
    drawing.setAttribute('viewBox', box.join(' '));
    drawing.setAttribute('preserveAspectRatio', 'xMinYMid meet');
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
    if (!box) return;
    // While it is played, where one is; then where it first went wrong, else its beginning.
    const wrong = outcomes.find(({ outcome }) => outcome !== 'met')?.step;
    const shown = outcomes.length && !live ? (wrong ?? null) : at;
    if (shown === null) {
      box.scrollTop = 0;
      return;
    }
    const here = box.querySelector(`#step-${shown}`)?.getBoundingClientRect();
    const frame = box.getBoundingClientRect();
    if (here && (here.top < frame.top || here.bottom > frame.bottom)) {
      box.scrollTop += here.top - frame.top - frame.height / 3;
    }
    if (here && live && (here.left < frame.left || here.right > frame.right)) {
      box.scrollLeft += here.left - frame.left - frame.width / 3;
    }
  });
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
  bind:this={box}
  bind:clientWidth={width}
  class="music"
  class:stale
  class:fill={fill && oneLine}
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

  .fill :global(svg) {
    min-width: 0;
    max-height: var(--music-height, none);
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
