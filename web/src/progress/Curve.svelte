<script lang="ts">
  import { scaleLinear, scaleTime } from 'd3-scale';
  import type { Schemas } from '../api/client';
  import { dayOf, shortDay, spanOf } from '../parts/dates';

  /** A player's own days, the line through them with what it lies between, and what happened. */
  interface Props {
    of: Schemas['ChangedOut'];
    marks: Schemas['MarkedOut'][];
    /** Small, as one of several. */
    small?: boolean;
  }

  let { of, marks, small = false }: Props = $props();

  const LEFT = 64;
  const TOP = 12;
  const FOOT = 64;
  let width = $state(800);
  const height = $derived(small ? 230 : width < 560 ? 300 : 460);

  const days = $derived(of.days);
  const times = $derived(Math.max(...days.map((day) => day.times), 1));
  const x = $derived(scaleTime(spanOf(days), [LEFT + 10, width - 14]));
  const values = $derived([
    ...days.map(({ value }) => value),
    ...of.line.flatMap(({ low, high }) => [low, high]),
  ]);
  const y = $derived(
    scaleLinear([Math.min(...values), Math.max(...values)], [height - FOOT, TOP]).nice(5),
  );
  const band = $derived(
    of.line.length
      ? [
          ...of.line.map(({ on, high }) => `${x(dayOf(on))},${y(high)}`),
          ...[...of.line].reverse().map(({ on, low }) => `${x(dayOf(on))},${y(low)}`),
        ].join(' ')
      : '',
  );
  const happened = $derived(
    marks.filter(({ on }) => {
      const [first, last] = x.domain();
      return first && last && +dayOf(on) >= +first && +dayOf(on) <= +last;
    }),
  );
</script>

<div bind:clientWidth={width}>
  <svg
    role="img"
    aria-label="{of.question} {of.answer} {days.length} days"
    viewBox="0 0 {width} {height}"
    {height}
  >
    {#each y.ticks(5) as tick (tick)}
      <line class="scale" x1={LEFT} x2={width} y1={y(tick)} y2={y(tick)} />
      <text x={LEFT - 10} y={y(tick) + 5} text-anchor="end">{tick}</text>
    {/each}
    {#each of.breaks as { after, before } (after)}
      {@const from = x(dayOf(after))}
      {@const to = x(dayOf(before))}
      <rect
        class="break"
        x={from + 6}
        width={to - from - 12}
        y={TOP}
        height={height - FOOT - TOP}
      />
      <text x={(from + to) / 2} y={height - FOOT + 20} text-anchor="middle">break</text>
    {/each}
    {#if band}
      <polygon class="between" points={band} />
      <line
        class="line"
        x1={x(dayOf(of.line[0]?.on ?? ''))}
        y1={y(of.line[0]?.value ?? 0)}
        x2={x(dayOf(of.line[1]?.on ?? ''))}
        y2={y(of.line[1]?.value ?? 0)}
      />
    {/if}
    {#each days as day (day.on)}
      <circle cx={x(dayOf(day.on))} cy={y(day.value)} r={2.5 + 4 * Math.sqrt(day.times / times)} />
    {/each}
    {#each happened as { on, words }, i (`${on} ${words}`)}
      {@const at = x(dayOf(on))}
      <line class="mark" x1={at} x2={at} y1={TOP} y2={height - FOOT} />
      <text
        class="mark"
        x={at + (at > width * 0.7 ? -6 : 6)}
        y={TOP + 14 + (i % 3) * 18}
        text-anchor={at > width * 0.7 ? 'end' : 'start'}>{words}</text
      >
    {/each}
    {#each x.ticks(width < 560 ? 3 : 6) as tick (tick)}
      <text x={x(tick)} y={height - 22} text-anchor="middle">{shortDay(tick)}</text>
    {/each}
  </svg>
</div>

<style>
  svg {
    display: block;
    width: 100%;
  }

  .scale {
    stroke: var(--line);
  }

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

  line.mark {
    stroke: var(--low);
    stroke-dasharray: 2 4;
  }

  text {
    fill: var(--dim);
    font-size: 15px;
    font-variant-numeric: tabular-nums;
  }

  text.mark {
    fill: var(--low);
  }

  /* Narrower on paper than it was drawn, and as much lower. */
  @media print {
    svg {
      height: auto;
    }
  }
</style>
