<script lang="ts">
  import { onDestroy, onMount } from 'svelte';

  /** The player's own camera as a mirror, with the lines the mouthpiece is centred on. Nothing of it
   * is kept or sent. */
  let video = $state<HTMLVideoElement>();
  let trouble = $state('');
  let stream: MediaStream | null = null;
  let gone = false;

  onMount(async () => {
    try {
      const found = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'user' } });
      if (gone) {
        for (const track of found.getTracks()) track.stop();
        return;
      }
      stream = found;
      if (video) video.srcObject = found;
    } catch (error) {
      const refused = error instanceof DOMException && error.name === 'NotAllowedError';
      trouble = refused
        ? 'The camera is not allowed. Allow it beside the address, or use a mirror on the stand.'
        : 'There is no camera. A small mirror on the stand does as well.';
    }
  });

  onDestroy(() => {
    gone = true;
    for (const track of stream?.getTracks() ?? []) track.stop();
  });
</script>

<figure>
  {#if trouble}
    <p>{trouble}</p>
  {:else}
    <video bind:this={video} autoplay muted playsinline aria-label="You, as in a mirror"></video>
    <svg viewBox="0 0 100 75" preserveAspectRatio="none" aria-hidden="true">
      <path d="M50 0V75M0 45H100" />
      <circle cx="50" cy="45" r="9" />
    </svg>
  {/if}
  <figcaption class="dim">The mirror: never kept, never sent.</figcaption>
</figure>

<style>
  figure {
    position: relative;
    flex: none;
    width: 100%;
  }

  video {
    width: 100%;
    aspect-ratio: 4 / 3;
    object-fit: cover;
    background: var(--line);
    transform: scaleX(-1);
  }

  svg {
    position: absolute;
    inset: 0 0 auto;
    width: 100%;
    aspect-ratio: 4 / 3;
    fill: none;
    stroke: var(--sound);
    stroke-width: 0.4;
  }

  p {
    aspect-ratio: 4 / 3;
    display: grid;
    place-content: center;
    padding: 1rem;
    border: 1px solid var(--line);
    text-align: center;
  }
</style>
