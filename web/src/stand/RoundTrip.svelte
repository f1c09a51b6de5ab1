<script lang="ts">
  import { onDestroy } from 'svelte';
  import Notice from '../parts/Notice.svelte';
  import type { RoundTrip } from './roundtrip.svelte';

  /** Measuring how long the application's sounds take back to the microphone. */
  let { trip, onclose }: { trip: RoundTrip; onclose: () => void } = $props();

  onDestroy(() => void trip.stop());
</script>

<Notice title={trip.headline} detail={trip.detail}>
  <button class="act-main" disabled={trip.running} onclick={() => trip.run()}>
    {trip.measured ? 'Measure again' : 'Measure'}
  </button>
  <button class="act" onclick={onclose}>Back to the Stand</button>
</Notice>
