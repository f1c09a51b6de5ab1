<script lang="ts">
  import { known } from '../api/fields.svelte';
  import Field from '../parts/Field.svelte';
  import Key from '../parts/Key.svelte';
  import Beats from './Beats.svelte';
  import { metronome } from './metronome.svelte';
  import type { Pulse, PulseBeat } from './pulse';
  import Strip from './Strip.svelte';

  /** The metronome while it goes: its tempo, its bar, and what can be set of it. */
  const OWN = 'own';
  const NUMBERS = [
    'sounding_bars',
    'silent_bars',
    'growth_bpm',
    'growth_bars',
    'highest_bpm',
  ] as const satisfies (keyof Pulse)[];
  const choices = known.fields.metronome.bars?.choices ?? [];

  const pulse = $derived(metronome.pulse);
  const beat = $derived(metronome.beat);
  let more = $state(false);
  let writes = $state(false);

  const listed = $derived(choices.some(({ value }) => value === pulse.bars));

  function wheel(event: WheelEvent) {
    event.preventDefault();
    metronome.faster(-Math.sign(event.deltaY));
  }

  function barWords({ silent, words, bar }: PulseBeat): string {
    if (silent) return 'silent: keep the time';
    return words || (bar < 0 ? 'counting in' : `bar ${bar + 1}`);
  }

  function choose(value: string) {
    writes = value === OWN;
    if (!writes) metronome.change({ bars: value });
  }
</script>

<Strip
  label="Metronome"
  shown="8"
  lower={{ label: 'Slower', run: () => metronome.faster(-2) }}
  higher={{ label: 'Faster', run: () => metronome.faster(2) }}
  stop={() => metronome.stop()}
  onwheel={wheel}
  bind:more
  folds
>
  {#snippet set()}
    <strong>{pulse.bpm}</strong> <span class="dim">a minute</span>
  {/snippet}
  {#snippet beside()}
    <button class="act" onclick={() => metronome.tap()}><Key shown="0" />tap</button>
    <div class="bar">
      <Beats {beat} />
      <p class:dim={beat?.silent}>
        {#if beat}
          {barWords(beat)}
        {/if}
      </p>
    </div>
  {/snippet}
  {#snippet fields()}
    {@const { bars, parts } = known.fields.metronome}
    {#if bars}
      <Field
        field={bars}
        choices={[...choices, { value: OWN, label: 'write it' }]}
        bind:value={() => (writes || !listed ? OWN : pulse.bars), (value) => choose(String(value))}
      />
      {#if writes || !listed}
        <Field
          field={{ ...bars, label: 'Such as 3 + 2, 4', choices: [] }}
          bind:value={() => pulse.bars, (value) => metronome.change({ bars: String(value) })}
        />
      {/if}
    {/if}
    {#if parts}
      <Field
        field={parts}
        bind:value={
          () => String(pulse.parts), (value) => metronome.change({ parts: Number(value) })
        }
      />
    {/if}
    {#if more}
      {#each NUMBERS as key (key)}
        {@const field = known.fields.metronome[key]}
        {#if field}
          <Field
            {field}
            bind:value={() => pulse[key], (value) => metronome.change({ [key]: Number(value) })}
          />
        {/if}
      {/each}
    {/if}
  {/snippet}
</Strip>

<style>
  .bar {
    min-width: 6rem;
  }

  .bar p {
    min-height: 1.4em;
    font-size: 0.9rem;
  }
</style>
