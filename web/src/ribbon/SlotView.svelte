<script lang="ts">
  import type { Band } from '../api/client';
  import { theme } from '../parts/theme.svelte';
  import { coloursOf, drawSlots, drawStretch, place } from './draw';
  import { wholeOf, type RibbonFrames } from './frames';
  import { layOut } from './layout';
  import { drawCursor, drawLoop, drawBookmarks } from './marks';
  import type { Stretch } from './shapes';

  interface Props {
    slots: Band[];
    /** The lowest and highest to show, in cents, where the slots do not say it. */
    range?: [number, number];
    limitCents: number;
    frames: RibbonFrames;
    stretches: Stretch[];
    /** Seconds across the view. */
    windowS: number;
    /** The second at its left edge; unset, it follows the newest sound. */
    fromS?: number | null;
    bookmarks?: number[];
    /** Redraw at every picture of the screen, because sound is coming in. */
    live?: boolean;
    cursorS?: number | null;
    /** Another sound to lay under it, where the same is in this one. */
    under?: RibbonFrames | null;
    /** A stretch of time to set apart, as one that is looped. */
    stretch?: { startS: number; endS: number } | null;
    label: string;
    onseek?: (seconds: number) => void;
  }

  let {
    slots,
    range,
    limitCents,
    frames,
    stretches,
    windowS,
    fromS = null,
    bookmarks = [],
    live = false,
    cursorS = null,
    under = null,
    stretch = null,
    label,
    onseek,
  }: Props = $props();

  let canvas: HTMLCanvasElement;
  let width = $state(0);
  let height = $state(0);
  let pannedS = 0;

  const layout = $derived(layOut(slots, width, height, range));
  const perSecond = $derived((width - layout.left - 8) / windowS);

  function draw() {
    const ctx = canvas?.getContext('2d');
    if (!ctx || !width || !height) return;
    const ratio = devicePixelRatio;
    if (
      canvas.width !== Math.round(width * ratio) ||
      canvas.height !== Math.round(height * ratio)
    ) {
      canvas.width = Math.round(width * ratio);
      canvas.height = Math.round(height * ratio);
    }
    ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
    const colours = coloursOf(canvas);
    drawSlots(ctx, layout, colours, limitCents);
    const places = place(stretches, frames);
    const tipS = places.at(-1)?.endS ?? 0;
    const wantedS = fromS ?? Math.max(0, tipS - 0.97 * windowS);
    // The strip glides to its new place instead of jumping there.
    pannedS += (wantedS - pannedS) * (live ? 0.15 : 1);
    if (under) {
      const xOf = (seconds: number) => layout.left + 4 + (seconds - pannedS) * perSecond;
      const pale = { ...wholeOf(under, []), pale: true };
      drawStretch(ctx, layout, { ...colours, sound: colours.ink }, under, pale, xOf, 0);
    }
    stretches.forEach((stretch, i) => {
      const { startS, endS } = places[i] ?? { startS: 0, endS: 0 };
      const xOf = (seconds: number) => layout.left + 4 + (startS + seconds - pannedS) * perSecond;
      drawStretch(ctx, layout, colours, frames, stretch, xOf, endS - startS);
    });
    const xOf = (seconds: number) => layout.left + 4 + (seconds - pannedS) * perSecond;
    if (stretch) drawLoop(ctx, layout, colours, xOf(stretch.startS), xOf(stretch.endS));
    drawBookmarks(ctx, layout, colours, bookmarks, xOf);
    if (cursorS !== null && xOf(cursorS) >= layout.left) {
      drawCursor(ctx, layout, colours, xOf(cursorS));
    }
  }

  $effect(() => {
    void theme.mode;
    if (!live) {
      draw();
      void document.fonts.ready.then(draw);
      return;
    }
    let request = requestAnimationFrame(function again() {
      draw();
      request = requestAnimationFrame(again);
    });
    return () => cancelAnimationFrame(request);
  });

  function seek(event: PointerEvent) {
    const x = event.clientX - canvas.getBoundingClientRect().left;
    onseek?.(Math.max(0, pannedS + (x - layout.left - 4) / perSecond));
  }
</script>

<div
  class="frame"
  role="img"
  aria-label={label}
  bind:clientWidth={width}
  bind:clientHeight={height}
>
  <canvas bind:this={canvas} onpointerdown={onseek && seek}></canvas>
</div>

<style>
  .frame {
    position: absolute;
    inset: 0;
    overflow: hidden;
  }

  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }
</style>
