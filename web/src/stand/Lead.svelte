<script lang="ts">
  import type { Going } from './going.svelte';

  /** What is next, large: in words, with the time that is left of a rest, the beat that is counted,
   * or the breath to be paced by. */
  let { going, far = false }: { going: Going; far?: boolean } = $props();

  const phase = $derived(going.stretch?.phase);
  const beat = $derived(going.beat);
  const breath = $derived(going.breath);
  const waits = $derived(phase === 'rest' || phase === 'sing' || phase === 'finger');
  const place = $derived([going.now?.whole, going.now?.place].filter(Boolean).join(' · '));

  function clock(seconds: number): string {
    const whole = Math.ceil(seconds);
    return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
  }
</script>

<section class="lead" class:far aria-label="Next">
  <div class="said">
    <p class="dim">{place}</p>
    <div role="status">
      <h2 class:rests={phase === 'rest'}>{breath?.words ?? going.stretch?.headline ?? ''}</h2>
    </div>
  </div>
  {#if waits && going.leftS !== null}
    <p class="count" role="timer">{clock(going.leftS)}</p>
  {:else if beat}
    {#key beat.sample}
      <p class="count beat" class:first={beat.click === 'bar'} class:in={beat.counted_in}>
        {beat.words || beat.number}
      </p>
    {/key}
  {/if}
</section>

<style>
  .lead {
    display: flex;
    align-items: center;
    gap: 1.5rem;
    min-height: 6.2rem;
    padding-block: 0.3rem 0.5rem;
    border-bottom: 1px solid var(--line);
  }

  .said {
    flex: 1;
    min-width: 0;
  }

  h2 {
    font-size: clamp(2rem, 4.6vw, 3.7rem);
  }

  .far h2 {
    font-size: clamp(2.4rem, 6.5vw, 5.6rem);
  }

  .rests {
    color: var(--low);
  }

  .count {
    font-family: var(--font-note);
    font-weight: 700;
    font-size: clamp(3rem, 6.5vw, 5.2rem);
    line-height: 1;
    min-width: 1.6em;
    text-align: right;
  }

  .beat {
    color: var(--dim);
    animation: beat 0.35s ease-out;
  }

  .beat.in {
    color: var(--sound);
  }

  .beat.first {
    color: var(--asked);
  }

  @keyframes beat {
    from {
      opacity: 0.35;
    }
  }

  @media (prefers-reduced-motion: reduce) {
    .beat {
      animation: none;
    }
  }
</style>
