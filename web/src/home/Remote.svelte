<script lang="ts">
  import { keyboard } from '../parts/keys.svelte';

  /** What the view offers by key, as large buttons at hand: for a phone beside the horn. */
  let { keys }: { keys: string[] } = $props();

  const offered = $derived(
    keys.flatMap((key) => {
      const action = keyboard.view.find((one) => one.keys.includes(key));
      return action ? [action] : [];
    }),
  );
</script>

<div class="remote" role="group" aria-label="At hand">
  {#each offered as { label, run, disabled } (label)}
    <button onclick={run} {disabled}>{label}</button>
  {/each}
</div>

<style>
  .remote {
    position: sticky;
    bottom: 0;
    z-index: 1;
    display: grid;
    grid-auto-flow: column;
    grid-auto-columns: minmax(0, 1fr);
    gap: 0.5rem;
    padding-block: 0.5rem;
    background: var(--paper);
  }

  button {
    min-height: 4.5rem;
    padding: 0.3rem;
    border: 2px solid var(--asked);
    border-radius: 6px;
    background: var(--sheet);
    font-size: 1.125rem;
    font-weight: 700;
    line-height: 1.15;
    cursor: pointer;
  }

  button:disabled {
    border-color: var(--line);
    color: var(--dim);
  }
</style>
