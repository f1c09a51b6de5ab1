<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { Plan } from '../api/client';
  import Key from '../parts/Key.svelte';
  import Music from '../parts/Music.svelte';
  import { markWords } from '../ribbon/frames';
  import SlotView from '../ribbon/SlotView.svelte';
  import Foremost from './Foremost.svelte';
  import Mirror from './Mirror.svelte';
  import Now from './Now.svelte';
  import Pacer from './Pacer.svelte';
  import SkillPanel from './SkillPanel.svelte';
  import type { Stand } from './stand.svelte';
  import VerdictPanel from './VerdictPanel.svelte';

  /** What is looked at while one plays: the note, its music, the sound in it, and the verdict. */
  interface Props {
    stand: Stand;
    plan: Plan;
    /** A whole session is played. */
    whole: boolean;
    /** It is read from across the room. */
    far: boolean;
    /** It is wider than a phone. */
    roomy: boolean;
    mirror: boolean;
    onstart: () => void;
    /** What can be set meanwhile, where the head has no room for it. */
    settings: Snippet;
  }

  let { stand, plan, whole, far, roomy, mirror, onstart, settings }: Props = $props();

  const going = $derived(stand.going);
  const standIn = $derived(stand.source === 'stand-in');
  const windowS = $derived(windowOf(plan.seconds, plan.sheet.notes.length));
  /** What is marked on the newest attempt. */
  const heard = $derived(markWords(stand.stretches.at(-1)?.marks ?? []));

  /** Seconds across the ribbon: two attempts at one note, or one at more. */
  function windowOf(seconds: number, notes: number): number {
    return notes > 1 ? Math.min(60, Math.max(10, 1.2 * seconds + 3)) : Math.max(8, 2 * seconds + 4);
  }
</script>

<div class="stand" class:far class:led={whole}>
  <Now
    {plan}
    note={stand.note}
    onturn={whole || stand.following ? null : (way) => void stand.turn(plan.higher, way)}
  />
  {#if mirror}
    <div class="mirror"><Mirror /></div>
  {:else}
    {#if far && stand.take && !stand.playing}
      <div class="bars"><Foremost rules={stand.take.verdict.rules} /></div>
    {/if}
    {#if !roomy}<div class="set">{@render settings()}</div>{/if}
    {#if standIn && !whole && !(far && roomy)}
      <section class="skill" aria-label="The stand-in player">
        <p class="dim">The stand-in player</p>
        <SkillPanel bind:skill={stand.skill} />
      </section>
    {/if}
  {/if}

  <section class="sound" aria-label="Sound">
    {#if plan.sheet.svg}
      <div class="music">
        <Music
          svg={plan.sheet.svg}
          described={plan.sheet.described}
          outcomes={stand.take?.verdict.steps}
          at={stand.reached}
          fill
        />
      </div>
    {/if}
    <div class="slots">
      {#if going.breath}
        <Pacer breath={going.breath} />
      {:else}
        <SlotView
          slots={plan.sheet.bands}
          limitCents={plan.sheet.limit_cents}
          frames={stand.frames}
          stretches={stand.stretches}
          {windowS}
          live={stand.listening}
          label="Your sound in {plan.sheet.title}{heard && `: ${heard}`}"
        />
      {/if}
      {#if !stand.listening}
        <div class="begin">
          <button class="act-main" disabled={stand.starting} onclick={onstart}>
            {standIn ? 'Stand-in, play' : 'Listen'}<Key shown="Space" />
          </button>
        </div>
      {/if}
    </div>
    <VerdictPanel {stand} {plan} />
  </section>
</div>

<style>
  .stand {
    flex: 1;
    min-height: 0;
    display: grid;
    grid-template-columns: minmax(15rem, 20.5rem) 1fr;
    grid-template-rows: 1fr auto;
    column-gap: 2.2rem;
  }

  .bars {
    grid-row: 2;
    padding-block: 0.6rem;
    padding-right: 1.5rem;
    border-right: 1px solid var(--line);
  }

  .mirror {
    grid-row: 2;
    padding-right: 1.5rem;
    border-right: 1px solid var(--line);
  }

  .skill {
    grid-row: 2;
    padding-block: 0.5rem;
    padding-right: 1.5rem;
    border-top: 1px solid var(--line);
    border-right: 1px solid var(--line);
  }

  .sound {
    grid-row: 1 / span 2;
    grid-column: 2;
    display: flex;
    flex-direction: column;
    min-width: 0;
    min-height: 0;
  }

  .music {
    --music-height: 11rem;

    display: flex;
    max-height: 15.5rem;
    flex: none;
  }

  .music > :global(.music) {
    flex: 1;
    overflow-y: auto;
    padding-block: 0.2rem;
  }

  .slots {
    position: relative;
    flex: 1;
    min-height: 14rem;
  }

  .begin {
    position: absolute;
    inset: 0;
    display: grid;
    place-items: center;
    padding-left: 5rem;
  }

  /* With what is next above it, the ribbon leaves room for the verdict. */
  .led .slots {
    min-height: 9rem;
  }

  .led :global(.now > p:first-child) {
    display: none;
  }

  .led :global(.now .hand) {
    font-size: 1.25rem;
  }

  /* On a low screen the three bars need the room more than how the note sounds. */
  @media (max-height: 900px) {
    .led :global(.now .beside > .dim) {
      display: none;
    }
  }

  .led .music {
    --music-height: 8rem;

    max-height: 8.5rem;
  }

  .far :global(.verdict dl),
  .far :global(.verdict ~ p) {
    display: none;
  }

  .far :global(.said) {
    min-height: 11rem;
  }

  .far :global(.said h2) {
    font-size: clamp(2.4rem, 5vw, 6.5rem);
  }

  .far :global(.said h2.short) {
    font-size: clamp(4rem, 10vw, 9rem);
  }

  .far :global(.verdict p) {
    font-size: clamp(1.5rem, 2.2vw, 2.4rem);
  }

  /* A tablet upright, as it stands on the desk: the note on top, then music, sound and the verdict. */
  @media (orientation: portrait) and (min-width: 761px) {
    .stand {
      display: flex;
      flex-direction: column;
      gap: 0.4rem;
    }

    .sound {
      flex: 1;
    }

    .music,
    .led .music {
      --music-height: 15rem;

      max-height: 20rem;
    }

    .bars,
    .mirror,
    .skill {
      order: 3;
      border-right: 0;
      padding-right: 0;
    }
  }

  @media (max-width: 760px) {
    /* What to do next and how it went come before the pictures. */
    .sound > :global(.said) {
      order: -1;
      min-height: 0;
    }

    .stand {
      display: flex;
      flex-direction: column;
      gap: 0.6rem;
    }

    .bars,
    .mirror,
    .set,
    .skill {
      order: 3;
      border-right: 0;
      padding-right: 0;
    }

    .set {
      display: flex;
      flex-wrap: wrap;
      gap: 0.2rem 1.5rem;
    }

    .slots {
      flex: none;
      height: 21rem;
    }

    .begin {
      padding-left: 3.6rem;
    }
  }
</style>
