<script lang="ts">
  import type { Level } from './level.svelte';
  import { MUTE } from './trouble';

  /** How loud it is at an ear, and what stands in the way of hearing well. A microphone can be
   * looked at (`onopen`), and is to give some sound. */
  let { level, label, onopen }: { level: Level; label: string; onopen?: () => void } = $props();

  const FLOOR_DB = 60;
  const share = $derived(Math.max(0, Math.min(1, 1 + level.peakDb / FLOOR_DB)));
  const worst = $derived(level.heard?.findings[0]);
</script>

{#snippet words()}
  {#if level.mute && onopen}
    {MUTE.title} {MUTE.detail}
  {:else if worst}
    {worst.words}
  {:else}
    {label}
  {/if}
{/snippet}

<span class="loudness">
  <span role="status">
    {#if onopen}
      <button class="act underlined" onclick={onopen}>{@render words()}</button>
    {:else}
      {@render words()}
    {/if}
  </span>
  <span
    class="scale"
    role="meter"
    aria-label="{label} level"
    aria-valuemin="0"
    aria-valuemax="100"
    aria-valuenow={Math.round(100 * share)}
  >
    <span class="value" class:over={worst?.finding === 'too-loud'} style:width="{100 * share}%"
    ></span>
  </span>
</span>

<style>
  .loudness {
    display: inline-flex;
    align-items: center;
    gap: 0.6rem;
  }

  .scale {
    flex: none;
    width: 7.5rem;
    height: 10px;
    background: var(--line);
    border-radius: 2px;
    overflow: hidden;
  }

  .value {
    display: block;
    height: 100%;
    background: var(--asked);
  }

  .over {
    background: var(--high);
  }
</style>
