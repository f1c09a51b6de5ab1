<script lang="ts">
  import { known } from '../api/fields.svelte';
  import Field from '../parts/Field.svelte';
  import Key from '../parts/Key.svelte';
  import { drone } from './drone.svelte';

  /** The drone while it sounds: its note, and what can be set of it. */
  const fields = known.fields.drone;
  const OCTAVE = 12;

  let more = $state(false);

  const step = (by: number) => drone.set && void drone.change({ midi: drone.set.midi + by });
</script>

<section aria-label="Drone" class:more>
  {#if drone.set}
    <div class="note-set">
      <button class="step" aria-label="A half step lower" onclick={() => step(-1)}>−</button>
      <p>
        <strong class="note">{drone.told?.name ?? ''}</strong>
        <span class="dim">{drone.told ? `sounds ${drone.told.sounding_name}` : ''}</span>
      </p>
      <button class="step" aria-label="A half step higher" onclick={() => step(1)}>+</button>
      <span class="octaves">
        <button class="act" onclick={() => step(-OCTAVE)}>octave down</button>
        <button class="act" onclick={() => step(OCTAVE)}>octave up</button>
      </span>
    </div>
    <div class="set">
      {#if fields.fifth}
        <Field
          field={fields.fifth}
          bind:value={
            () => (drone.set?.fifth ? 'yes' : 'no'),
            (value) => void drone.change({ fifth: value === 'yes' })
          }
        />
      {/if}
      {#if fields.tuning}
        <Field
          field={fields.tuning}
          bind:value={
            () => drone.set?.tuning,
            (value) => void drone.change({ tuning: value === 'equal' ? 'equal' : 'just' })
          }
        />
      {/if}
      {#if fields.loudness}
        <Field
          field={fields.loudness}
          bind:value={
            () => drone.set?.loudness, (value) => void drone.change({ loudness: Number(value) })
          }
        />
      {/if}
    </div>
  {/if}
  {#if drone.trouble}<p role="alert">{drone.trouble}</p>{/if}
  <p class="ways">
    <button class="act narrow" aria-expanded={more} onclick={() => (more = !more)}
      >{more ? 'less' : 'set more of it'}</button
    >
    <button class="act" onclick={() => drone.stop()}><Key shown="9" />stop</button>
  </p>
</section>

<style>
  section {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.4rem 1.6rem;
  }

  .note-set {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.6rem;
  }

  .note-set strong {
    font-size: 2.4rem;
  }

  .step {
    width: 3rem;
    height: 3rem;
    border: 2px solid var(--line);
    border-radius: 6px;
    font-size: 1.5rem;
    cursor: pointer;
  }

  .set {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem 1rem;
  }

  .set :global(.input[type='number']) {
    width: 7rem;
  }

  .ways {
    display: flex;
    gap: 0.2rem 1.4rem;
    margin-left: auto;
  }

  .narrow {
    display: none;
  }

  @media (max-width: 760px) {
    .narrow {
      display: inline-flex;
    }

    section:not(.more) :is(.set, .octaves) {
      display: none;
    }
  }
</style>
