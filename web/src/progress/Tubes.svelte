<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import Chart from '../parts/Chart.svelte';
  import { between, height, landmarks, named, tube, type RangeNote, type RangeRow } from './tubes';

  /** A tube for each week over every half step of the horn, and how each stands now. */
  interface Props {
    headline: string;
    rows: RangeRow[];
    notes: RangeNote[];
    /** The note that is looked at. */
    midi?: number;
    onchoose?: (midi: number) => void;
  }

  let { headline, rows, notes, midi, onchoose }: Props = $props();

  /** What stands over the picture and under it takes so much. */
  const AROUND = 420;
  let width = $state(1000);
  let high = $state(800);
  const LABELS = $derived(width < 560 ? 62 : 118);
  /** As high as the window leaves room for, so that it can be read from where one stands. */
  const ROW = $derived(
    width < 560 ? 26 : Math.min(58, Math.max(36, (high - AROUND) / rows.length)),
  );
  const MARKS = 34;
  const FOOT = 44;
  const tall = $derived(rows.length * ROW + 10);
  const x = $derived(
    scaleLinear(
      [(notes.at(-1)?.midi ?? 40) - 0.6, (notes[0]?.midi ?? 80) + 0.6],
      [LABELS + 8, width - 4],
    ),
  );
  const pedals = $derived(notes.filter(({ part }) => part !== 'range'));

  function pick(event: MouseEvent) {
    const box = (event.currentTarget as SVGElement).getBoundingClientRect();
    onchoose?.(Math.round(x.invert(((event.clientX - box.left) / box.width) * width)));
  }

  const spoken = (row: RangeRow) =>
    row.parts
      .map(
        ({ part, bottom, top }) =>
          `${part === 'range' ? '' : `${part} `}reached ${between(notes, bottom.reached, top.reached)}`,
      )
      .join(', ') || 'no practice';
</script>

<svelte:window bind:innerHeight={high} />

<div class="picture">
  <Chart
    label="{headline} {rows.map((row) => `${named(row)}: ${spoken(row)}`).join('; ')}"
    bind:width
    height={tall + MARKS + FOOT}
    onclick={onchoose && pick}
  >
    {#each landmarks(notes) as mark (mark.midi)}
      <line class="scale" x1={x(mark.midi)} x2={x(mark.midi)} y1="0" y2={tall + MARKS} />
    {/each}
    {#if midi !== undefined && notes.some((one) => one.midi === midi)}
      <line class="here" x1={x(midi)} x2={x(midi)} y1="0" y2={tall + MARKS} />
    {/if}
    {#if pedals.length}
      {@const edge = x((pedals[0]?.midi ?? 0) + 0.5)}
      <line class="edge" x1={edge} x2={edge} y1="0" y2={tall + MARKS} />
      <text class="part" x={edge + 4} y={tall + MARKS + 37} text-anchor="end">pedals</text>
    {/if}
    {#each rows as row, i (row.monday)}
      {@const middle = i * ROW + ROW / 2 + 4}
      <text
        class="week"
        class:now={i === rows.length - 1}
        x={LABELS}
        y={middle + 5}
        text-anchor="end"
      >
        {width < 560 ? named({ ...row, weeks: 1 }) : named(row)}
      </text>
      {#if !row.played}
        <text class="week" x={LABELS + 20} y={middle + 5}>no practice</text>
      {/if}
      <g
        class="tube"
        class:now={i === rows.length - 1}
        style:opacity={i === rows.length - 1 ? 1 : 0.35 + (0.45 * i) / rows.length}
        transform="translate(0 {middle})"
      >
        {#each row.parts as span (span.part)}
          <path d={tube(span, x, ROW)} />
        {/each}
      </g>
    {/each}
    {#each notes as one (one.midi)}
      {@const up = height(one.standing) * (MARKS - 12)}
      {#if up}
        <rect
          class="mark {one.standing}"
          class:here={one.midi === midi}
          x={x(one.midi - 0.36)}
          width={x(0.72) - x(0)}
          y={tall + MARKS - 4 - up}
          height={up}
        />
      {/if}
    {/each}
    {#each landmarks(notes) as mark (mark.midi)}
      <text class="name" x={x(mark.midi)} y={tall + MARKS + 18} text-anchor="middle">
        {mark.name}
      </text>
    {/each}
  </Chart>
</div>

<style>
  .picture {
    flex: 1;
  }

  .edge {
    stroke: var(--low);
    stroke-dasharray: 2 4;
  }

  line.here {
    stroke: var(--asked);
    stroke-width: 1.5;
  }

  .tube {
    fill: var(--sound);
  }

  text.now {
    fill: var(--ink);
  }

  text.part {
    fill: var(--low);
  }

  .mark {
    fill: var(--dim);
  }

  .mark.secure,
  .mark.held {
    fill: var(--ink);
  }

  .mark.faded {
    fill: none;
    stroke: var(--dim);
  }

  .mark.here {
    fill: var(--asked);
    stroke: var(--asked);
  }
</style>
