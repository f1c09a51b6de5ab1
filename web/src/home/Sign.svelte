<script lang="ts">
  import { house } from './house.svelte';

  /** Seen on every device while a microphone is open anywhere in the house. `away` alone: on other
   * devices than this. */
  let { away = false }: { away?: boolean } = $props();

  const open = $derived(
    house.ears.filter(
      ({ source, device }) => source === 'microphone' && !(away && device === house.device),
    ),
  );
  const where = $derived([
    ...new Set(open.map(({ device }) => (device === house.device ? 'this device' : device))),
  ]);
</script>

{#if where.length}
  <p role="status" class:away>
    <svg viewBox="0 0 24 24" aria-hidden="true">
      <path d="M9 11 V6 a3 3 0 0 1 6 0 V11 a3 3 0 0 1 -6 0 Z M5 11 a7 7 0 0 0 14 0 M12 18 V21" />
    </svg>
    <span>Microphone on: {where.join(', ')}</span>
  </p>
{/if}

<style>
  p {
    display: flex;
    flex-direction: column;
    align-items: center;
    justify-content: center;
    gap: 0.2rem 0.4rem;
    padding: 0.3rem;
    color: var(--ink);
    text-align: center;
    font-size: 0.8125rem;
    line-height: 1.2;
  }

  span {
    max-width: 100%;
    overflow-wrap: break-word;
  }

  /* A strip across the page. */
  .away {
    flex-direction: row;
  }

  svg {
    flex: none;
    width: 1.3rem;
    height: 1.3rem;
    fill: none;
    stroke: var(--high);
    stroke-width: 2;
    stroke-linecap: round;
  }
</style>
