<script lang="ts">
  import { Slider } from '@skeletonlabs/skeleton-svelte';
  import type { Field } from '../api/client';
  import { known } from '../api/fields.svelte';
  import type { Skill } from './standin';

  /** How well the stand-in player plays. */
  let { skill = $bindable() }: { skill: Skill } = $props();

  const lines = known.fields.stand_in;

  /** A number as it is said: its side in place of its sign, or its unit. */
  function words({ unit, above, below, either_way }: Field, value: number): string {
    if (either_way) return `± ${value} ${unit}`;
    if (above && value !== 0) return `${Math.abs(value)} ${value > 0 ? above : below}`;
    return `${value} ${unit}`;
  }
</script>

<div class="panel">
  {#each lines as line (line.key)}
    {@const set = skill[line.key] ?? 0}
    <Slider
      class="skill"
      min={line.least ?? 0}
      max={line.most ?? 100}
      step={line.step ?? 1}
      value={[set]}
      aria-label={[`stand-in ${line.label}`]}
      getAriaValueText={({ value }) => words(line, value)}
      onValueChange={({ value }) => (skill[line.key] = value[0] ?? 0)}
    >
      <Slider.Label class="skill-label">{line.label}</Slider.Label>
      <Slider.Control class="skill-control">
        <Slider.Track class="skill-track"><Slider.Range class="skill-range" /></Slider.Track>
        <Slider.Thumb index={0} class="skill-thumb"><Slider.HiddenInput /></Slider.Thumb>
      </Slider.Control>
      <span class="skill-value">{words(line, set)}</span>
    </Slider>
  {/each}
</div>

<style>
  .panel :global(.skill) {
    display: grid;
    grid-template-columns: 4rem 1fr 6.3rem;
    align-items: center;
    gap: 0.7rem;
    min-height: 1.9rem;
  }

  .panel :global(.skill-label) {
    color: var(--dim);
  }

  .panel :global(.skill-control) {
    display: flex;
    align-items: center;
    height: 1.5rem;
  }

  .panel :global(.skill-track) {
    flex: 1;
    height: 4px;
    border-radius: 2px;
    background: var(--line);
  }

  .panel :global(.skill-range) {
    height: 100%;
    border-radius: 2px;
    background: var(--dim);
  }

  .panel :global(.skill-thumb) {
    width: 18px;
    height: 18px;
    border-radius: 50%;
    background: var(--ink);
  }

  .skill-value {
    white-space: nowrap;
    text-align: right;
  }
</style>
