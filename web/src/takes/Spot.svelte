<script lang="ts">
  /** A moment of a sound, in seconds, to go to. */
  let { atS, onseek }: { atS: number; onseek: (seconds: number) => void } = $props();
</script>

<button onclick={() => onseek(atS)}>{atS.toFixed(1)} s</button>

<style>
  button {
    cursor: pointer;
    min-height: 1.75rem;
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }
</style>
