<script lang="ts">
  import { scaleBand, scaleLinear } from 'd3-scale';
  import type { Schemas } from '../api/client';
  import Chart from './Chart.svelte';

  /** How long the notes of a set were held, one after the other: a bar each, the line through them,
   * and what is usual with the player. */
  interface Props {
    holds: Schemas['HoldsOut'];
    /** In one or two sentences only, for where there is little room. */
    small?: boolean;
  }

  let { holds, small = false }: Props = $props();

  const LEFT = 46;
  const RIGHT = 10;
  const TOP = 24;
  const FOOT = 24;
  /** As much as a bar with its space takes where there are few. */
  const WIDEST = 72;
  let width = $state(600);
  const height = $derived(small ? 120 : 190);

  const x = $derived(
    scaleBand(
      holds.held_s.map((_, at) => at),
      [LEFT, Math.min(width - RIGHT, LEFT + WIDEST * holds.held_s.length)],
    ).padding(0.22),
  );
  const most = $derived(Math.max(...holds.held_s, holds.usual_s ?? 0, 1));
  const y = $derived(scaleLinear([0, most], [height - FOOT, TOP]).nice(3));
  const middle = (at: number) => (x(at) ?? 0) + x.bandwidth() / 2;
  const last = $derived(holds.held_s.length - 1);
  /** Numbers under the bars, as many as there is room for, the last one among them. */
  const every = $derived(Math.ceil((34 * holds.held_s.length) / Math.max(width - LEFT, 1)));
  const said = $derived(small ? holds.words.slice(0, 2) : holds.words);
</script>

<section aria-label="How long the notes of this set were held">
  <Chart
    label={`${holds.words.join(' ')} ${holds.held_s.map((held, at) => `${at + 1}: ${held ? `${held.toFixed(1)} s` : 'did not speak'}`).join(', ')}`}
    bind:width
    {height}
  >
    {#each y.ticks(3) as tick (tick)}
      <line class="scale" x1={LEFT} x2={width - RIGHT} y1={y(tick)} y2={y(tick)} />
      <text x={LEFT - 8} y={y(tick) + 5} text-anchor="end">{tick} s</text>
    {/each}
    {#each holds.held_s as held, at (at)}
      {#if held}
        <rect
          class="held"
          class:now={at === last}
          x={x(at)}
          width={x.bandwidth()}
          y={y(held)}
          height={y(0) - y(held)}
        />
      {:else}
        <text class="name" x={middle(at)} y={y(0) - 5} text-anchor="middle">–</text>
      {/if}
      {#if (last - at) % every === 0}
        <text x={middle(at)} y={height - 6} text-anchor="middle">{at + 1}</text>
      {/if}
    {/each}
    {#if holds.line_from_s !== null && holds.line_to_s !== null}
      <line
        class="line"
        x1={middle(0)}
        x2={middle(last)}
        y1={y(holds.line_from_s)}
        y2={y(holds.line_to_s)}
      />
    {/if}
    {#if holds.usual_s !== null}
      <line
        class="usual"
        x1={LEFT}
        x2={width - RIGHT}
        y1={y(holds.usual_s)}
        y2={y(holds.usual_s)}
      />
      <text class="name" x={width - RIGHT} y={y(holds.usual_s) - 6} text-anchor="end">
        your usual
      </text>
    {/if}
  </Chart>
  {#each said as sentence (sentence)}
    <p>{sentence}</p>
  {/each}
</section>

<style>
  .held {
    fill: color-mix(in oklab, var(--sound) 45%, var(--paper));
  }

  .held.now {
    fill: var(--sound);
  }

  .line {
    stroke: var(--ink);
    stroke-width: 2.5;
  }

  .usual {
    stroke: var(--ink);
    stroke-width: 1.5;
    stroke-dasharray: 3 5;
  }

  p {
    font-size: 1.15rem;
  }
</style>
