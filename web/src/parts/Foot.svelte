<script lang="ts">
  import type { Snippet } from 'svelte';
  import { keyboard } from './keys.svelte';
  import Key from './Key.svelte';

  /** One line at the foot of a view: what to do now, and the keys that do it. */
  let { lead = '', children }: { lead?: string; children?: Snippet } = $props();
</script>

<footer>
  {#if lead}<span class="lead">{lead}</span>{/if}
  {#each keyboard.view.filter((action) => !action.quiet) as action (action.shown)}
    <button class="act" disabled={action.disabled} onclick={action.run}>
      <Key shown={action.shown} />{action.label}
    </button>
  {/each}
  <span class="end">{@render children?.()}</span>
</footer>

<style>
  footer {
    position: sticky;
    bottom: 0;
    background: var(--paper);
    border-top: 1px solid var(--line);
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.1rem 1.4rem;
    padding-block: 0.35rem;
    min-height: 3.25rem;
    color: var(--dim);
    font-size: 1rem;
  }

  @media (max-width: 760px) {
    footer {
      position: static;
    }
  }

  @media print {
    footer {
      display: none;
    }
  }

  .end {
    margin-left: auto;
    display: inline-flex;
    align-items: center;
    gap: 0.6rem;
  }
</style>
