<script lang="ts">
  import { Slider } from '@skeletonlabs/skeleton-svelte';
  import type { Skill } from '../audio/standin';

  /** How well the stand-in player plays. */
  let { skill = $bindable() }: { skill: Skill } = $props();

  interface Line {
    name: keyof Skill;
    label: string;
    min: number;
    max: number;
    step: number;
    words: (value: number) => string;
  }

  const directed = (above: string, below: string) => (value: number) =>
    value === 0 ? '0 cents' : `${Math.abs(value)} ${value > 0 ? above : below}`;

  const lines: Line[] = [
    {
      name: 'centre_cents',
      label: 'centre',
      min: -60,
      max: 60,
      step: 1,
      words: directed('high', 'low'),
    },
    {
      name: 'scoop_cents',
      label: 'start',
      min: -80,
      max: 80,
      step: 1,
      words: directed('above', 'below'),
    },
    { name: 'sag_cents', label: 'end', min: -80, max: 80, step: 1, words: directed('high', 'low') },
    {
      name: 'wobble_cents',
      label: 'wobble',
      min: 0,
      max: 40,
      step: 1,
      words: (v) => `± ${v} cents`,
    },
    {
      name: 'vibrato_cents',
      label: 'vibrato',
      min: 0,
      max: 40,
      step: 1,
      words: (v) => `± ${v} cents`,
    },
    { name: 'breath_db', label: 'breath', min: -60, max: -10, step: 1, words: (v) => `${v} dB` },
    { name: 'hold_s', label: 'holds', min: 1, max: 12, step: 0.5, words: (v) => `${v} s` },
  ];
</script>

<div class="panel">
  {#each lines as line (line.name)}
    <Slider
      class="skill"
      min={line.min}
      max={line.max}
      step={line.step}
      value={[skill[line.name]]}
      aria-label={[`stand-in ${line.label}`]}
      getAriaValueText={({ value }) => line.words(value)}
      onValueChange={({ value }) => (skill[line.name] = value[0] ?? 0)}
    >
      <Slider.Label class="skill-label">{line.label}</Slider.Label>
      <Slider.Control class="skill-control">
        <Slider.Track class="skill-track"><Slider.Range class="skill-range" /></Slider.Track>
        <Slider.Thumb index={0} class="skill-thumb"><Slider.HiddenInput /></Slider.Thumb>
      </Slider.Control>
      <span class="skill-value">{line.words(skill[line.name])}</span>
    </Slider>
  {/each}
</div>

<style>
  .panel :global(.skill) {
    display: grid;
    grid-template-columns: 4rem 1fr 5.6rem;
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
