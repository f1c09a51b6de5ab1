<script lang="ts">
  import { known } from '../api/fields.svelte';
  import Field from '../parts/Field.svelte';
  import Key from '../parts/Key.svelte';
  import Beats from './Beats.svelte';
  import { metronome } from './metronome.svelte';
  import type { Pulse } from './pulse';

  /** The metronome while it goes: its tempo, its bar, and what can be set of it. */
  const OWN = 'own';
  const fields = known.fields.metronome;
  const choices = fields.bars?.choices ?? [];

  const pulse = $derived(metronome.pulse);
  const beat = $derived(metronome.beat);
  let more = $state(false);
  let writes = $state(false);

  // The bars that come in turn, as they are written.
  const bars = $derived((pulse.bars ?? '').split(','));
  const groups = $derived(
    (bars[Math.max(beat?.bar ?? 0, 0) % bars.length] ?? '').split('+').map(Number),
  );
  const listed = $derived(choices.some(({ value }) => value === pulse.bars));
  const NUMBERS = [
    'sounding_bars',
    'silent_bars',
    'growth_bpm',
    'growth_bars',
    'highest_bpm',
  ] as const satisfies (keyof Pulse)[];

  function wheel(event: WheelEvent) {
    event.preventDefault();
    metronome.change({ bpm: pulse.bpm - Math.sign(event.deltaY) });
  }

  function choose(value: string) {
    writes = value === OWN;
    if (!writes) metronome.change({ bars: value });
  }
</script>

<section aria-label="Metronome" class:more>
  <div class="tempo" onwheel={wheel}>
    <button
      class="step"
      aria-label="Slower"
      onclick={() => metronome.change({ bpm: pulse.bpm - 2 })}>−</button
    >
    <p><strong>{pulse.bpm}</strong> <span class="dim">a minute</span></p>
    <button
      class="step"
      aria-label="Faster"
      onclick={() => metronome.change({ bpm: pulse.bpm + 2 })}>+</button
    >
    <button class="act" onclick={() => metronome.tap()}><Key shown="0" />tap</button>
  </div>
  <div class="bar">
    <Beats {beat} {groups} />
    <p class:dim={beat?.silent}>
      {beat?.silent
        ? 'silent: keep the time'
        : beat?.words || `bar ${Math.max(beat?.bar ?? 0, 0) + 1}`}
    </p>
  </div>
  <div class="set">
    {#if fields.bars}
      <Field
        field={fields.bars}
        choices={[...choices, { value: OWN, label: 'write it' }]}
        bind:value={() => (writes || !listed ? OWN : pulse.bars), (value) => choose(String(value))}
      />
      {#if writes || !listed}
        <Field
          field={{ ...fields.bars, label: 'Such as 3 + 2, 4', choices: [] }}
          bind:value={() => pulse.bars, (value) => metronome.change({ bars: String(value) })}
        />
      {/if}
    {/if}
    {#if fields.parts}
      <Field
        field={fields.parts}
        bind:value={
          () => String(pulse.parts), (value) => metronome.change({ parts: Number(value) })
        }
      />
    {/if}
    {#if more}
      {#each NUMBERS as key (key)}
        {@const field = fields[key]}
        {#if field}
          <Field
            {field}
            bind:value={() => pulse[key], (value) => metronome.change({ [key]: Number(value) })}
          />
        {/if}
      {/each}
    {/if}
  </div>
  <p class="ways">
    <button class="act" aria-expanded={more} onclick={() => (more = !more)}
      >{more ? 'less' : 'set more of it'}</button
    >
    <button class="act" onclick={() => metronome.stop()}><Key shown="8" />stop</button>
  </p>
</section>

<style>
  section {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.4rem 1.6rem;
  }

  .tempo {
    display: flex;
    align-items: center;
    gap: 0.6rem;
  }

  .tempo strong {
    font-family: var(--font-note);
    font-size: 2.6rem;
    line-height: 1;
    font-variant-numeric: tabular-nums;
  }

  .step {
    width: 3rem;
    height: 3rem;
    border: 2px solid var(--line);
    border-radius: 6px;
    font-size: 1.5rem;
    cursor: pointer;
  }

  .bar p {
    font-size: 0.9rem;
  }

  .set {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem 1rem;
  }

  .set :global(.input[type='number']) {
    width: 7rem;
  }

  @media (max-width: 760px) {
    section:not(.more) .set {
      display: none;
    }
  }

  .ways {
    display: flex;
    flex-wrap: wrap;
    gap: 0.2rem 1.4rem;
    margin-left: auto;
  }
</style>
