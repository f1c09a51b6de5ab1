<script lang="ts">
  import type { Schemas } from '../api/client';

  /** The timeline of a session: a row for each exercise, with every attempt at it. */
  let { blocks }: { blocks: Schemas['TimelineBlockOut'][] } = $props();

  const HEIGHT = 34;
  const STEPS_S = [15, 30, 60, 120, 300, 600];
  const MOST_TICKS = 6;

  const ends = $derived(Math.max(1, ...blocks.map(({ end_s }) => end_s)));
  const percent = (s: number) => `${(100 * s) / ends}%`;
  const stepS = $derived(STEPS_S.find((step) => ends / step <= MOST_TICKS) ?? 1200);
  const ticks = $derived(
    Array.from({ length: Math.floor(ends / stepS) }, (_, i) => (i + 1) * stepS),
  );
  const clock = (s: number) => (stepS < 60 ? `${s} s` : `${s / 60} min`);
</script>

<div class="ran">
  {#each blocks as block, i (i)}
    <p class="title">{block.title}</p>
    <svg
      height={HEIGHT}
      role="group"
      aria-label={block.words ? `${block.title}: ${block.words}` : block.title}
    >
      <line x1="0" x2="100%" y1={HEIGHT - 1} y2={HEIGHT - 1} class="ground" />
      <rect
        class="time"
        class:works={block.works}
        x={percent(block.start_s)}
        width={percent(block.end_s - block.start_s)}
        y={HEIGHT / 2 - 6}
        height={HEIGHT / 2 + 6}
      />
      {#each block.attempts as attempt, k (k)}
        <a
          href="#/takes/{attempt.take_id}"
          aria-label="Attempt {k + 1}: {attempt.good ? 'good' : 'not yet'}"
        >
          <rect
            class="attempt"
            class:good={attempt.good}
            x={percent(attempt.start_s)}
            style:width="max(5px, {percent(attempt.end_s - attempt.start_s)})"
            y={attempt.good ? 2 : HEIGHT / 2 + 1}
            height={attempt.good ? HEIGHT - 4 : HEIGHT / 2 - 4}
          />
        </a>
      {/each}
    </svg>
    <p class="words">{block.words}</p>
  {/each}
  <span></span>
  <div class="axis" aria-hidden="true">
    {#each ticks as at (at)}<span style:left={percent(at)}>{clock(at)}</span>{/each}
  </div>
  <span></span>
</div>
<p class="dim explains">
  Tall bars are good attempts, short ones not yet. The shading shows how long each exercise took,
  and is darker for hard work. Press an attempt to open its take.
</p>

<style>
  .ran {
    display: grid;
    grid-template-columns: minmax(8rem, auto) minmax(12rem, 1fr) minmax(8rem, 18rem);
    align-items: center;
    gap: 0.35rem 1.2rem;
    font-size: 1.1875rem;
  }

  svg {
    width: 100%;
    overflow: visible;
  }

  .ground {
    stroke: var(--line);
  }

  .time {
    fill: var(--asked-tint);
  }

  .works {
    fill: color-mix(in srgb, var(--high) 30%, var(--paper));
  }

  .attempt {
    fill: var(--paper);
    stroke: var(--sound);
    stroke-width: 2;
  }

  .good {
    fill: var(--sound);
  }

  .words {
    line-height: 1.25;
  }

  .axis {
    position: relative;
    height: 1.4rem;
    font-size: 0.875rem;
    color: var(--dim);
  }

  .axis span {
    position: absolute;
    translate: -100% 0;
    white-space: nowrap;
  }

  .explains {
    font-size: 0.9375rem;
    padding-block: 0.4rem 0.2rem;
  }

  @media (max-width: 760px) {
    .ran {
      grid-template-columns: 1fr;
      gap: 0.1rem;
    }

    .title {
      font-weight: 700;
      padding-top: 0.5rem;
    }
  }
</style>
