<script lang="ts">
  import { untrack } from 'svelte';
  import type { Listening } from './listening.svelte';

  let { listening }: { listening: Listening } = $props();

  // The cursor follows the sound's own clock at every picture.
  $effect(() => {
    if (!listening.playing) return;
    let request = requestAnimationFrame(function again() {
      listening.follow();
      request = requestAnimationFrame(again);
    });
    return () => cancelAnimationFrame(request);
  });

  // It begins where the page was opened at.
  $effect(() => {
    const { audio } = listening;
    if (audio) untrack(() => (audio.currentTime = listening.cursorS));
  });

  // Half speed keeps the pitch: the browser stretches the sound.
  $effect(() => {
    if (!listening.audio) return;
    listening.audio.preservesPitch = true;
    listening.audio.playbackRate = listening.half ? 0.5 : 1;
  });
</script>

{#if listening.soundUrl}
  <audio
    bind:this={listening.audio}
    src={listening.soundUrl}
    autoplay={listening.playAtOnce}
    onplay={() => (listening.playing = true)}
    onpause={() => (listening.playing = false)}
    onended={() => (listening.playing = false)}
  ></audio>
{/if}
