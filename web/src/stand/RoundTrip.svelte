<script lang="ts">
  import { onDestroy } from 'svelte';
  import type { RoundTrip } from './roundtrip.svelte';

  /** Measuring how long the application's sounds take back to the microphone. */
  let { trip, onclose }: { trip: RoundTrip; onclose: () => void } = $props();

  onDestroy(() => void trip.stop());
</script>

<section aria-label="Calibration">
  <h2>{trip.headline}</h2>
  <p>{trip.detail}</p>
  <div class="ways">
    <button class="act-main" disabled={trip.running} onclick={() => trip.run()}>
      {trip.measured ? 'Measure again' : 'Measure'}
    </button>
    <button class="act" onclick={onclose}>Back to the Stand</button>
  </div>
</section>

<style>
  section {
    max-width: 44rem;
    align-self: center;
  }

  h2 {
    font-size: clamp(1.9rem, 4.2vw, 3rem);
  }

  p {
    font-size: 1.3rem;
    margin-block: 0.9rem 1.6rem;
  }

  .ways {
    display: flex;
    gap: 1.6rem;
  }
</style>
