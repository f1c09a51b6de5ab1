<script lang="ts">
  import { scaleBand, scaleLinear } from 'd3-scale';
  import type { Schemas } from '../api/client';
  import { dayOf, shortDay } from '../parts/dates';
  import { heightIn } from './chart';
  import Chart from '../parts/Chart.svelte';

  /** Playing time, week by week, by register: low below and cool, high above and warm. */
  interface Props {
    of: Schemas['WeeksAnswer'];
    small?: boolean;
  }

  let { of, small = false }: Props = $props();

  const LEFT = 64;
  const TOP = 12;
  const FOOT = 40;
  const NAMES = 130;
  let width = $state(800);
  const height = $derived(heightIn(width, small));

  const sum = (row: Schemas['RegisterWeekOut']) =>
    row.registers.reduce((all, one) => all + one.minutes, 0);
  const x = $derived(
    scaleBand(
      of.rows.map(({ monday }) => monday),
      [LEFT, width - NAMES],
    ).padding(0.18),
  );
  const y = $derived(
    scaleLinear([0, Math.max(...of.rows.map(sum), 1)], [height - FOOT, TOP]).nice(5),
  );
  const bars = $derived(
    of.rows.map((row) => {
      let below = 0;
      return {
        monday: row.monday,
        parts: row.registers.map((one) => {
          const from = below;
          below += one.minutes;
          return { ...one, from, to: below };
        }),
      };
    }),
  );
  /** What there is any of, named beside the last bar in its order. */
  const named = $derived(
    (of.rows[0]?.registers ?? [])
      .map(({ name }) => name)
      .filter((name) =>
        of.rows.some((row) => row.registers.some((one) => one.name === name && one.minutes)),
      ),
  );
  const every = $derived(Math.ceil((64 * of.rows.length) / Math.max(width - LEFT - NAMES, 1)));
</script>

<Chart
  label="{of.question} {of.answer} {of.rows
    .map((row) => `${shortDay(dayOf(row.monday))}: ${Math.round(sum(row))} min`)
    .join(', ')}"
  bind:width
  {height}
>
  {#each y.ticks(5) as tick (tick)}
    <line class="scale" x1={LEFT} x2={width - NAMES} y1={y(tick)} y2={y(tick)} />
    <text x={LEFT - 10} y={y(tick) + 5} text-anchor="end">{tick}</text>
  {/each}
  {#each bars as bar, i (bar.monday)}
    {#each bar.parts as part (part.name)}
      {#if part.minutes}
        <rect
          class={part.name}
          x={x(bar.monday)}
          width={x.bandwidth()}
          y={y(part.to)}
          height={Math.max(y(part.from) - y(part.to) - 1, 0)}
        />
      {/if}
    {/each}
    {#if (bars.length - 1 - i) % every === 0}
      <text x={(x(bar.monday) ?? 0) + x.bandwidth() / 2} y={height - 14} text-anchor="middle"
        >{shortDay(dayOf(bar.monday))}</text
      >
    {/if}
  {/each}
  {#each named as name, i (name)}
    {@const at = height - FOOT - 14 - 24 * i}
    <rect class={name} x={width - NAMES + 12} y={at - 11} width="14" height="14" />
    <text class="name" x={width - NAMES + 32} y={at + 1}>{name}</text>
  {/each}
</Chart>

<style>
  .mouthpiece {
    fill: var(--dim);
  }

  .pedals {
    fill: var(--low);
  }

  .low {
    fill: color-mix(in oklab, var(--low) 50%, var(--paper));
  }

  .middle {
    fill: var(--sound);
  }

  .high {
    fill: var(--high);
  }
</style>
