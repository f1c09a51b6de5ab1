<script lang="ts">
  import { known } from '../api/fields.svelte';
  import Field from '../parts/Field.svelte';
  import { drone } from './drone.svelte';
  import Strip from './Strip.svelte';

  /** The drone while it sounds: its note, and what can be set of it. */
  const OCTAVE = 12;

  let more = $state(false);

  const step = (by: number) => void drone.step(by);
</script>

<Strip
  label="Drone"
  shown="9"
  lower={{ label: 'A half step lower', run: () => step(-1) }}
  higher={{ label: 'A half step higher', run: () => step(1) }}
  stop={() => drone.stop()}
  bind:more
>
  {#snippet set()}
    <strong>{drone.told?.name ?? ''}</strong>
    <span class="dim">{drone.told ? `sounds ${drone.told.sounding_name}` : ''}</span>
  {/snippet}
  {#snippet beside()}
    {#if drone.trouble}<p role="alert">{drone.trouble}</p>{/if}
  {/snippet}
  {#snippet fields()}
    {@const { fifth, temperament, loudness } = known.fields.drone}
    <button class="act" onclick={() => step(-OCTAVE)}>octave down</button>
    <button class="act" onclick={() => step(OCTAVE)}>octave up</button>
    {#if fifth}
      <Field
        field={fifth}
        bind:value={
          () => (drone.set?.fifth ? 'yes' : 'no'),
          (value) => void drone.change({ fifth: value === 'yes' })
        }
      />
    {/if}
    {#if temperament}
      <Field
        field={temperament}
        bind:value={
          () => drone.set?.temperament,
          (value) => void drone.change({ temperament: value === 'equal' ? 'equal' : 'just' })
        }
      />
    {/if}
    {#if loudness}
      <Field
        field={loudness}
        bind:value={
          () => drone.set?.loudness, (value) => void drone.change({ loudness: Number(value) })
        }
      />
    {/if}
  {/snippet}
</Strip>
