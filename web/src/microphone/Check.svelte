<script lang="ts">
  import Dialog from '../parts/Dialog.svelte';
  import type { Level } from './level.svelte';
  import { MUTE } from './trouble';

  /** How well the microphone hears: the levels as a picture, what stands in the way, what to do. */
  let { level, open = $bindable() }: { level: Level; open: boolean } = $props();

  const FLOOR_DB = -90;
  const STEPS = [-80, -60, -40, -20, 0];

  const heard = $derived(level.heard);
  const peakDb = $derived(Math.max(level.peakDb, FLOOR_DB));
  const rows = $derived([
    { name: 'Now, at its peaks', from: FLOOR_DB, to: peakDb, words: db(peakDb) },
    {
      name: 'Your notes',
      from: heard?.softer_db ?? null,
      to: heard?.louder_db ?? null,
      words: heard?.notes_words,
    },
    {
      name: 'The room',
      from: FLOOR_DB,
      to: heard?.room_db ?? null,
      words: heard?.room_words,
    },
  ]);

  function at(levelDb: number): number {
    return 100 * Math.max(0, Math.min(1, 1 - levelDb / FLOOR_DB));
  }

  function db(levelDb: number, unit = ' dB'): string {
    return `${Math.round(levelDb)}`.replace('-', '−') + unit;
  }
</script>

<Dialog bind:open title="How well the microphone hears you">
  <div class="levels">
    {#each rows as { name, from, to, words } (name)}
      <div class="row">
        <span>{name}</span>
        <div class="scale">
          {#if heard}
            <div class="wanted" style:left="{at(heard.wanted_db)}%"></div>
          {/if}
          {#if from !== null && to !== null}
            <div
              class="value"
              class:notes={name === 'Your notes'}
              style:left="{at(from)}%"
              style:width="{Math.max(at(to) - at(from), 0.6)}%"
            ></div>
          {/if}
        </div>
        <span class="words">{words}</span>
      </div>
    {/each}
    <div class="row" aria-hidden="true">
      <div class="scale steps">
        {#each STEPS as step (step)}
          <span style:left="{at(step)}%">{db(step, step ? '' : ' dB')}</span>
        {/each}
      </div>
    </div>
  </div>
  <p class="dim">
    Your louder notes belong on the green, and peaks stay below 0 dB. While a drone sounds, Orexis
    does not judge the room.
  </p>
  <div role="status" class="found">
    {#if level.mute}
      <p class="big">{MUTE.title}</p>
      <p>{MUTE.detail}</p>
    {:else if heard}
      {#each heard.findings as one (one.finding)}
        <p class="big">{one.words}</p>
        <p>{one.advice}</p>
      {:else}
        <p class="big">{heard.summary}</p>
      {/each}
    {/if}
  </div>
</Dialog>

<style>
  .levels {
    display: grid;
    gap: 0.7rem;
    width: min(46rem, 80vw);
  }

  .row {
    display: grid;
    grid-template: 'name scale words' auto / 9.5rem minmax(0, 1fr) 8.5rem;
    align-items: center;
    gap: 0.2rem 1rem;
  }

  .scale {
    position: relative;
    grid-area: scale;
    height: 1.9rem;
    background: var(--line);
    overflow: hidden;
  }

  .wanted {
    position: absolute;
    inset: 0 0 0 auto;
    background: color-mix(in srgb, var(--asked) 22%, transparent);
  }

  .value {
    position: absolute;
    inset-block: 0.45rem;
    background: var(--dim);
  }

  .notes {
    background: var(--sound);
  }

  .words {
    grid-area: words;
    font-variant-numeric: tabular-nums;
  }

  .steps {
    height: 1.4rem;
    background: none;
    color: var(--dim);
  }

  .steps span {
    position: absolute;
    translate: -50% 0;
    font-size: 0.9rem;
    white-space: nowrap;
  }

  .steps span:last-child {
    translate: -100% 0;
  }

  p {
    max-width: 46rem;
  }

  .found {
    min-height: 7.5rem;
  }

  .big {
    font-size: 1.5rem;
    font-weight: 700;
    padding-top: 0.5rem;
  }

  @media (max-width: 640px) {
    .row {
      grid-template: 'name words' auto 'scale scale' auto / minmax(0, 1fr) auto;
    }
  }
</style>
