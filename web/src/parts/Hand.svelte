<script lang="ts">
  import type { Schemas } from '../api/client';

  /** What the hand does, drawn: valves open or pressed, or the slide out to where it really is. */
  let { hand, upright = false }: { hand: Schemas['HandOut']; upright?: boolean } = $props();

  const { label, valves, valveCount, thumb, position, triggers, slideShare, slideMarks } = $derived(
    {
      ...hand,
      valveCount: hand.valve_count,
      slideShare: hand.slide_share,
      slideMarks: hand.slide_marks,
    },
  );

  const all = $derived(Array.from({ length: valveCount }, (_, i) => i + 1));
  const STEP = 46;
  /** Where a valve is drawn: side by side, or one above the other beside a large name. */
  const placeOf = (valve: number) =>
    upright ? { cx: 20, cy: valve * STEP - 26 } : { cx: valve * STEP - 26, cy: 20 };
  const CLOSED = 64;
  const REACH = 168;
  const bowX = $derived(CLOSED + REACH * (slideShare ?? 0));
</script>

{#if valveCount}
  {@const end = all.length * STEP}
  {@const across = upright ? (thumb ? 66 : 40) : end + (thumb ? 84 : 0)}
  {@const down = upright ? end + (thumb ? 30 : 0) : 40}
  <svg viewBox="0 0 {across} {down}" height={down} role="img" aria-label={label}>
    {#each all as valve (valve)}
      {@const { cx, cy } = placeOf(valve)}
      <circle {cx} {cy} r="15" class:pressed={valves.includes(valve)} />
      {#if valves.includes(valve)}<text x={cx} y={cy + 6}>{valve}</text>{/if}
    {/each}
    {#if thumb}
      <text class="number" x={upright ? 33 : end + 38} y={upright ? end + 16 : 26}>thumb</text>
    {/if}
  </svg>
{:else if position !== null}
  <svg viewBox="0 0 262 46" height="46" role="img" aria-label={label}>
    <path class="tube inner" d="M4 9H{CLOSED + 6}M4 25H{CLOSED + 6}" />
    <path class="tube" d="M{bowX - CLOSED + 30} 9H{bowX}a8 8 0 0 1 0 16H{bowX - CLOSED + 30}" />
    {#each slideMarks as mark, i (i)}
      <line x1={CLOSED + 8 + REACH * mark} x2={CLOSED + 8 + REACH * mark} y1="35" y2="42" />
    {/each}
    <text class="number" x="18" y="43">{triggers.join(' ')}</text>
    <text class="number" x={bowX - 12} y="23">{position}</text>
  </svg>
{/if}

<style>
  svg {
    overflow: visible;
    max-width: 100%;
  }

  circle {
    fill: none;
    stroke: var(--ink);
    stroke-width: 2;
  }

  circle.pressed {
    fill: var(--ink);
  }

  text {
    fill: var(--paper);
    font-family: var(--font-text);
    font-size: 17px;
    font-weight: 700;
    text-anchor: middle;
  }

  .number {
    fill: var(--ink);
  }

  .tube {
    fill: none;
    stroke: var(--ink);
    stroke-width: 3;
  }

  .inner {
    stroke: var(--dim);
    stroke-width: 1.5;
  }

  line {
    stroke: var(--dim);
    stroke-width: 1.5;
  }
</style>
