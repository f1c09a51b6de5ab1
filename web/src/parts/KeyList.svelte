<script lang="ts">
  import Key from './Key.svelte';
  import type { Action } from './keys.svelte';

  /** Every key there is now, and what it does. */
  let { actions }: { actions: Action[] } = $props();
</script>

<dl>
  {#each actions as action (action.shown + action.label)}
    <dt><Key shown={action.shown} /></dt>
    <dd>{action.label}</dd>
  {/each}
</dl>
<p class="dim">Page-turn pedals work too: they send Page Up and Page Down.</p>

<style>
  dl {
    display: grid;
    grid-template-columns: auto 1fr auto 1fr;
    gap: 0.45rem 1rem;
  }

  dt {
    text-align: right;
  }

  @media (max-width: 760px) {
    dl {
      grid-template-columns: auto 1fr;
    }
  }
</style>
