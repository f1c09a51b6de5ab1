<script lang="ts">
  import type { Plan } from '../api/client';
  import Hand from '../parts/Hand.svelte';
  import Key from '../parts/Key.svelte';
  import NoteName from '../parts/NoteName.svelte';

  /** The note to play, large, and what the hand does for it. */
  interface Props {
    plan: Plan;
    note: Plan['sheet']['notes'][number] | undefined;
    /** Takes the exercise a step higher (1) or lower (−1), where that can be. */
    onturn: ((way: 1 | -1) => void) | null;
  }

  let { plan, note, onturn }: Props = $props();
</script>

<section class="now" aria-label="Now">
  <p class="dim">Now</p>
  {#if note}
    <div class="top">
      <div class="name"><NoteName name={note.name} /></div>
      {#if note.hand.valve_count}<Hand hand={note.hand} upright />{/if}
    </div>
  {/if}
  <div class="beside">
    {#if plan.higher && onturn}
      <div class="steps">
        <button class="act" onclick={() => onturn(1)}><Key shown="↑" />higher</button>
        <button class="act" onclick={() => onturn(-1)}><Key shown="↓" />lower</button>
      </div>
    {/if}
    {#if note}
      {#if !note.hand.valve_count}<Hand hand={note.hand} />{/if}
      <p class="hand">{note.hand.label}<br />{plan.cue}</p>
      {#if note.sounding_name !== note.name}<p class="dim">sounds {note.sounding_name}</p>{/if}
    {:else}
      <p class="hand">{plan.cue}</p>
    {/if}
  </div>
</section>

<style>
  .now {
    border-right: 1px solid var(--line);
    padding-right: 1.5rem;
    overflow-y: auto;
    overflow-x: hidden;
  }

  .top {
    display: flex;
    align-items: center;
    gap: 0.9rem;
    margin-block: 0.3rem 0.4rem;
  }

  .top > :global(svg) {
    flex: none;
  }

  .name {
    font-size: clamp(6rem, 12vw, 9.6rem);
    line-height: 1;
  }

  .steps {
    display: flex;
    gap: 1.4rem;
    color: var(--dim);
    margin-bottom: 0.5rem;
  }

  .hand {
    font-size: 1.5rem;
    line-height: 1.35;
    margin-top: 0.7rem;
  }

  @media (orientation: portrait) and (min-width: 761px) {
    .now {
      display: grid;
      grid-template-columns: auto 1fr;
      align-items: center;
      column-gap: 2rem;
      border-right: 0;
      padding-right: 0;
      overflow: visible;
    }

    .now > :first-child {
      grid-column: 1 / -1;
    }
  }

  @media (max-width: 760px) {
    .now {
      display: grid;
      grid-template-columns: auto 1fr;
      align-items: center;
      column-gap: 1rem;
      border-right: 0;
      padding-right: 0;
      overflow: visible;
    }

    .now > :first-child {
      display: none;
    }

    .name {
      font-size: 4.6rem;
    }

    .hand {
      font-size: 1.125rem;
      margin-top: 0.3rem;
    }

    .steps {
      margin-bottom: 0;
    }
  }
</style>
