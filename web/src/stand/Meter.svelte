<script lang="ts">
  /** How loud it is at the ear, and a word when it is too much or nothing. */
  let { peak, label, mute = false }: { peak: number; label: string; mute?: boolean } = $props();

  const FLOOR_DB = 60;
  const db = $derived(peak > 0 ? 20 * Math.log10(peak) : -FLOOR_DB);
  const share = $derived(Math.max(0, Math.min(1, 1 + db / FLOOR_DB)));
</script>

<span class="loudness">
  <span role="status">
    {#if mute}
      no sound comes in: is it muted, or is another input chosen?
    {:else}
      {peak >= 0.999 ? 'too loud: move back' : label}
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
    <span class="value" class:over={peak >= 0.999} style:width="{100 * share}%"></span>
  </span>
</span>

<style>
  .loudness {
    display: inline-flex;
    align-items: center;
    gap: 0.6rem;
  }

  .scale {
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
