<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import type { Schemas } from '../api/client';
  import { heightIn } from './chart';
  import Chart from '../parts/Chart.svelte';

  /** Where every note lies: a dot now, a ring at first, with the way between. */
  interface Props {
    of: Schemas['NotesAnswer'];
    small?: boolean;
  }

  let { of, small = false }: Props = $props();

  const LEFT = 64;
  const TOP = 12;
  const FOOT = 40;
  const LEAST_CENTS = 20;
  let width = $state(800);
  const height = $derived(heightIn(width, small));

  const first = $derived(of.notes[0]?.midi ?? 60);
  const last = $derived(of.notes.at(-1)?.midi ?? 60);
  const x = $derived(scaleLinear([first - 0.7, last + 0.7], [LEFT, width - 8]));
  const most = $derived(
    Math.max(
      LEAST_CENTS,
      ...of.notes.flatMap((one) => [Math.abs(one.now_cents), Math.abs(one.then_cents ?? 0)]),
    ),
  );
  const y = $derived(scaleLinear([-most, most], [height - FOOT, TOP]).nice(5));
  /** As many names as there is room for. */
  const every = $derived(Math.ceil((46 * (last - first + 1)) / Math.max(width - LEFT, 1)));
  const side = (cents: number) => (cents > 0 ? 'high' : 'low');
</script>

<Chart
  label="{of.question} {of.answer} {of.notes
    .map((one) => `${one.name} ${Math.abs(Math.round(one.now_cents))} cents ${side(one.now_cents)}`)
    .join(', ')}"
  bind:width
  {height}
>
  <rect
    class="near"
    x={LEFT}
    width={Math.max(width - LEFT, 0)}
    y={y(of.near_cents)}
    height={y(-of.near_cents) - y(of.near_cents)}
  />
  {#each y.ticks(5) as tick (tick)}
    <line class="scale" class:middle={tick === 0} x1={LEFT} x2={width} y1={y(tick)} y2={y(tick)} />
    <text x={LEFT - 10} y={y(tick) + 5} text-anchor="end">{tick < 0 ? `−${-tick}` : tick}</text>
  {/each}
  {#each of.notes as one, i (one.midi)}
    {#if one.then_cents !== null}
      <line
        class="way"
        x1={x(one.midi)}
        x2={x(one.midi)}
        y1={y(one.then_cents)}
        y2={y(one.now_cents)}
      />
      <circle class="then" cx={x(one.midi)} cy={y(one.then_cents)} r="5" />
    {/if}
    <circle class="now" cx={x(one.midi)} cy={y(one.now_cents)} r="6.5" />
    {#if i % every === 0}
      <text class="name" x={x(one.midi)} y={height - 14} text-anchor="middle">{one.name}</text>
    {/if}
  {/each}
</Chart>

<style>
  .scale.middle {
    stroke: var(--asked);
    stroke-width: 2;
  }

  .way {
    stroke: var(--sound);
    stroke-width: 2;
  }

  .then {
    fill: var(--paper);
    stroke: var(--sound);
    stroke-width: 2;
  }

  .now {
    fill: var(--sound);
  }
</style>
