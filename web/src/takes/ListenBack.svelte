<script lang="ts">
  import type { Band, Mark } from '../api/client';
  import SlotView from '../ribbon/SlotView.svelte';
  import { markWords, wholeOf, type RibbonFrames } from '../ribbon/frames';
  import type { Listening } from './listening.svelte';
  import Bookmarks from './Bookmarks.svelte';
  import Sound from './Sound.svelte';

  interface Props {
    listening: Listening;
    frames: RibbonFrames;
    marks: Mark[];
    slots: Band[];
    range?: [number, number];
    limitCents: number;
    /** Where the place in the sound is shown, when not where it itself is. */
    cursorS?: number;
    /** Another sound to lay under it, where the same is in this one. */
    under?: RibbonFrames | null;
    /** What is drawn, in words. */
    name: string;
  }

  let {
    listening,
    frames,
    marks,
    slots,
    range,
    limitCents,
    cursorS,
    under = null,
    name,
  }: Props = $props();

  const here = $derived(cursorS ?? listening.cursorS);
</script>

<div class="ribbon">
  <SlotView
    {slots}
    {range}
    {limitCents}
    {frames}
    stretches={[wholeOf(frames, marks)]}
    windowS={listening.windowS}
    fromS={listening.fromS}
    bookmarks={listening.bookmarks.map((bookmark) => bookmark.at_s)}
    cursorS={here}
    {under}
    label="{name}: {markWords(marks) || 'nothing to point at'}"
    stretch={listening.loop && {
      startS: listening.loop.startS,
      endS: listening.loop.endS ?? here,
    }}
    onseek={(seconds) => listening.seek(seconds)}
  />
</div>
<Bookmarks {listening} />
<Sound {listening} />

<style>
  .ribbon {
    position: relative;
    flex: 1;
    min-height: 21rem;
  }
</style>
