<script lang="ts">
  import { scaleLinear, scaleTime } from 'd3-scale';
  import type { Schemas } from '../api/client';
  import { dayOf, shortDay, spanOf } from '../parts/dates';
  import { heightIn } from './chart';
  import Chart from '../parts/Chart.svelte';

  /**
   * A player's own days (or the minutes of their days), the line through them with what it lies
   * between, and what happened.
   */
  interface Props {
    of: Schemas['DaysAnswer'] | Schemas['MinutesAnswer'];
    marks: Schemas['MarkedOut'][];
    /** Small, as one of several. */
    small?: boolean;
  }

  let { of, marks, small = false }: Props = $props();

  const LEFT = 64;
  const TOP = 12;
  const FOOT = 64;
  let width = $state(800);
  const height = $derived(heightIn(width, small));

  /** Places along as numbers, whichever they are. */
  const along = $derived(
    of.along === 'days'
      ? {
          values: of.values.map((one) => ({ ...one, at: +dayOf(one.at) })),
          line: of.line.map((one) => ({ ...one, at: +dayOf(one.at) })),
          breaks: of.breaks.map(({ after, before }) => ({
            after: +dayOf(after),
            before: +dayOf(before),
          })),
          marks: marks.map(({ on, words }) => ({ at: +dayOf(on), words })),
        }
      : { values: of.values, line: of.line, breaks: [], marks: [] },
  );
  const names = $derived(of.along === 'days' ? of.names : []);
  const times = $derived(Math.max(...along.values.map((one) => one.times), 1));
  const span = $derived(
    of.along === 'days'
      ? spanOf(of.values.map(({ at }) => ({ on: at }))).map(Number)
      : [0, Math.max(...of.values.map(({ at }) => at), 1)],
  );
  const x = $derived(scaleLinear(span, [LEFT + 10, width - 30]));
  const ticks = $derived(
    of.along === 'days'
      ? scaleTime(span, [0, 1])
          .ticks(width < 560 ? 3 : 6)
          .map((day) => ({ at: +day, words: shortDay(day) }))
      : x.ticks(width < 560 ? 4 : 8).map((at) => ({ at, words: `${at} min` })),
  );
  const heights = $derived([
    ...along.values.map(({ value }) => value),
    ...along.line.flatMap(({ low, high }) => [low, high]),
  ]);
  const y = $derived(
    scaleLinear([Math.min(...heights), Math.max(...heights)], [height - FOOT, TOP]).nice(5),
  );
  const rungs = $derived(
    names.length
      ? names
          .filter((_, i) => i % Math.ceil(names.length / 8) === 0)
          .map(({ midi, name }) => ({ at: midi, words: name }))
      : y.ticks(5).map((tick) => ({ at: tick, words: String(tick) })),
  );
  const band = $derived(
    [
      ...along.line.map(({ at, high }) => `${x(at)},${y(high)}`),
      ...[...along.line].reverse().map(({ at, low }) => `${x(at)},${y(low)}`),
    ].join(' '),
  );
  const happened = $derived(
    along.marks.filter(({ at }) => at >= (span[0] ?? 0) && at <= (span[1] ?? 0)),
  );
</script>

<Chart label="{of.question} {of.answer} {of.values.length} {of.along}" bind:width {height}>
  {#each rungs as { at, words } (at)}
    <line class="scale" x1={LEFT} x2={width} y1={y(at)} y2={y(at)} />
    <text x={LEFT - 10} y={y(at) + 5} text-anchor="end">{words}</text>
  {/each}
  {#each along.breaks as { after, before } (after)}
    {@const from = x(after)}
    {@const to = x(before)}
    <rect
      class="break"
      x={from + 6}
      width={Math.max(to - from - 12, 0)}
      y={TOP}
      height={height - FOOT - TOP}
    />
    <text x={(from + to) / 2} y={height - FOOT + 20} text-anchor="middle">break</text>
  {/each}
  {#if band}
    <polygon class="between" points={band} />
    <polyline
      class="line"
      points={along.line.map(({ at, value }) => `${x(at)},${y(value)}`).join(' ')}
    />
  {/if}
  {#each along.values as one (one.at)}
    <circle cx={x(one.at)} cy={y(one.value)} r={2.5 + 4 * Math.sqrt(one.times / times)} />
  {/each}
  {#each happened as { at, words }, i (`${at} ${words}`)}
    {@const place = x(at)}
    <line class="happened" x1={place} x2={place} y1={TOP} y2={height - FOOT} />
    <text
      class="happened"
      x={place + (place > width * 0.7 ? -6 : 6)}
      y={TOP + 14 + (i % 3) * 18}
      text-anchor={place > width * 0.7 ? 'end' : 'start'}>{words}</text
    >
  {/each}
  {#each ticks as { at, words } (at)}
    <text x={x(at)} y={height - 22} text-anchor="middle">{words}</text>
  {/each}
</Chart>

<style>
  .break {
    fill: var(--sheet);
  }

  .between {
    fill: var(--asked-tint);
  }

  .line {
    stroke: var(--asked);
    stroke-width: 3;
  }

  circle {
    fill: var(--sound);
    fill-opacity: 0.85;
  }

  line.happened {
    stroke: var(--low);
    stroke-dasharray: 2 4;
  }

  text.happened {
    fill: var(--low);
  }
</style>
