<script lang="ts">
  import type { TakeDetail } from '../api/client';
  import { dayOf, fullDay } from '../parts/dates';
  import Music from '../parts/Music.svelte';
  import NoteSpan from '../parts/NoteSpan.svelte';
  import Rules from '../parts/Rules.svelte';
  import SlotView from '../ribbon/SlotView.svelte';
  import { markWords, ribbonOf, wholeOf } from '../ribbon/frames';
  import type { SaidMark } from './words.svelte';

  /** A take in a report: its music, its ribbon, its sound, and what is said of it. */
  interface Props {
    take: TakeDetail;
    sound: string;
    chosen: boolean;
    marks: SaidMark[];
    onchoose: () => void;
    onremove?: (mark: SaidMark) => void;
  }

  let { take, sound, chosen, marks, onchoose, onremove }: Props = $props();

  let audio = $state<HTMLAudioElement>();
  let cursorS = $state(0);
  let silent = $state(false);
  const frames = $derived(ribbonOf(take.frames));
  const spots = $derived([
    ...take.bookmarks.map((bookmark) => ({ ...bookmark, mark: null })),
    ...marks.map((mark) => ({ at_s: mark.at_s, words: mark.words, said_by: 'you', mark })),
  ]);

  /** Plays it, or stops it. */
  export function toggle(): void {
    if (!audio) return;
    // Leaving the page while it starts is no error.
    if (audio.paused) audio.play().catch(() => undefined);
    else audio.pause();
  }

  /** Where in it one is. */
  export function hereS(): number {
    return audio?.currentTime ?? 0;
  }

  function seek(seconds: number) {
    onchoose();
    if (audio) audio.currentTime = Math.min(seconds, take.duration_s);
  }
</script>

<article aria-label="{take.exercise}, {take.verdict.headline}" class:chosen>
  <header>
    <h3><NoteSpan span={take.span} /></h3>
    <p>
      {take.setting}<br />
      <span class="dim">{fullDay(dayOf(take.started_at.slice(0, 10)))}</span>
    </p>
  </header>
  <p class="verdict" class:go={take.verdict.passed}>{take.verdict.headline}</p>
  {#if take.verdict.change}<p>{take.verdict.change}</p>{/if}
  {#if take.sheet.svg}
    <Music svg={take.sheet.svg} described={take.sheet.described} outcomes={take.verdict.steps} />
  {/if}
  <div class="ribbon">
    <SlotView
      slots={take.sheet.bands}
      limitCents={take.sheet.limit_cents}
      {frames}
      stretches={[wholeOf(frames, take.marks)]}
      windowS={take.duration_s}
      fromS={0}
      {cursorS}
      bookmarks={spots.map(({ at_s }) => at_s)}
      label="The take: {markWords(take.marks) || 'nothing to point at'}"
      onseek={seek}
    />
  </div>
  <audio
    bind:this={audio}
    bind:currentTime={cursorS}
    src={sound}
    controls
    preload="metadata"
    onplay={onchoose}
    onerror={() => (silent = true)}
    aria-label="The sound of {take.exercise}"
  ></audio>
  {#if silent}
    <p class="unprinted" role="status">
      Its sound is not here. If this page was opened within a zip, unpack the whole zip first.
    </p>
  {/if}
  {#if spots.length}
    <ol aria-label="Bookmarks">
      {#each spots as spot, i (i)}
        <li>
          <button class="act" onclick={() => seek(spot.at_s)}>{spot.at_s.toFixed(1)} s</button>
          <span>{spot.words || 'a spot'}</span>
          {#if spot.said_by}<span class="dim">{spot.said_by}</span>{/if}
          {#if spot.mark && onremove}
            {@const mark = spot.mark}
            <button class="act" onclick={() => onremove(mark)}>take it away</button>
          {/if}
        </li>
      {/each}
    </ol>
  {/if}
  <Rules rules={take.verdict.rules} />
</article>

<style>
  article {
    border-top: 1px solid var(--line);
    border-left: 3px solid transparent;
    padding: 0.8rem 0 1.2rem 0.9rem;
    break-inside: avoid;
  }

  article.chosen {
    border-left-color: var(--sound);
  }

  header {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.2rem 1.2rem;
  }

  h3 {
    font-family: var(--font-note);
    font-weight: 700;
    font-size: 2.6rem;
  }

  .verdict {
    font-family: var(--font-note);
    font-weight: 700;
    font-size: 1.5rem;
  }

  .verdict.go {
    color: var(--asked);
  }

  .ribbon {
    position: relative;
    height: 15rem;
    margin-block: 0.4rem;
  }

  audio {
    width: 100%;
    max-width: 34rem;
    height: 2.6rem;
  }

  li {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 0 0.8rem;
  }

  @media print {
    article {
      border-left: 0;
      padding-left: 0;
    }

    audio,
    .unprinted,
    li button:last-child:not(:first-child) {
      display: none;
    }
  }
</style>
