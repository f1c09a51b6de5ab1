<script lang="ts">
  import type { Plan } from '../api/client';

  /** What the hand does, drawn: valves open or pressed, or the slide out to its position. */
  let { plan }: { plan: Plan } = $props();

  const valves = $derived(Array.from({ length: plan.valve_count }, (_, i) => i + 1));
  const slideX = $derived(18 + ((plan.position ?? 1) - 1) * 22);
</script>

{#if plan.valve_count}
  <svg viewBox="0 0 {valves.length * 46} 40" height="40" role="img" aria-label={plan.hand}>
    {#each valves as valve (valve)}
      <circle cx={valve * 46 - 26} cy="20" r="15" class:pressed={plan.valves.includes(valve)} />
      {#if plan.valves.includes(valve)}
        <text x={valve * 46 - 26} y="26">{valve}</text>
      {/if}
    {/each}
  </svg>
{:else if plan.position !== null}
  <svg viewBox="0 0 230 40" height="40" role="img" aria-label={plan.hand}>
    <path class="tube" d="M4 13H{slideX + 40}a7 7 0 0 1 0 14H4" />
    {#each [1, 2, 3, 4, 5, 6, 7] as position (position)}
      <line x1={position * 22 + 36} x2={position * 22 + 36} y1="34" y2="38" />
    {/each}
    <text class="number" x={slideX + 62} y="26">{plan.position}</text>
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

  line {
    stroke: var(--dim);
    stroke-width: 1.5;
  }
</style>
