<script lang="ts">
  import { scaleLinear, scaleTime } from 'd3-scale';
  import type { Schemas } from '../api/client';
  import { dayOf, shortDay, spanOf } from '../parts/dates';
  import Chart from '../parts/Chart.svelte';

  /** Where a note lay on each of its days: above the line sharp, below it flat, in cents. */
  interface Props {
    days: Schemas['NoteDayOut'][];
    name: string;
    /** Within so many cents of its middle a note is near. */
    near: number;
  }

  let { days, name, near }: Props = $props();

  const HEIGHT = 108;
  const MOST_CENTS = 40;
  let width = $state(400);

  const known = $derived(days.filter(({ centre_cents }) => centre_cents !== null));
  const x = $derived(scaleTime(spanOf(known), [44, width - 8]));
  const y = scaleLinear([MOST_CENTS, -MOST_CENTS], [6, HEIGHT - 22]).clamp(true);
</script>

{#if known.length}
  <Chart label="Where {name} lay on {known.length} days" bind:width height={HEIGHT}>
    <rect
      class="near"
      x="40"
      width={Math.max(width - 44, 0)}
      y={y(near)}
      height={y(-near) - y(near)}
    />
    <line x1="40" x2={width - 4} y1={y(0)} y2={y(0)} />
    <text x="34" y={y(near) + 5} text-anchor="end">{near}</text>
    <text x="34" y={y(0) + 5} text-anchor="end">0</text>
    <text x="34" y={y(-near) + 5} text-anchor="end">−{near}</text>
    {#each known as day (day.on)}
      <circle cx={x(dayOf(day.on))} cy={y(day.centre_cents ?? 0)} r="3.4" />
    {/each}
    <text x="40" y={HEIGHT - 3}>{shortDay(dayOf(known[0]?.on ?? ''))}</text>
    {#if known.length > 1}
      <text x={width - 4} y={HEIGHT - 3} text-anchor="end"
        >{shortDay(dayOf(known.at(-1)?.on ?? ''))}, cents</text
      >
    {/if}
  </Chart>
{/if}

<style>
  line {
    stroke: var(--asked);
  }

  circle {
    fill: var(--sound);
  }
</style>
