<script lang="ts">
  import Key from '../parts/Key.svelte';
  import { standards } from '../players/standard';
  import { who } from '../players/who.svelte';
  import type { Stand } from './stand.svelte';

  /** What can be set while one plays: how much of it, how it is shown, how strictly it is judged. */
  interface Props {
    stand: Stand;
    /** A whole session is played, which sets its exercises itself. */
    whole: boolean;
    /** There is room to choose how it is shown. */
    roomy: boolean;
    far: boolean;
    onfar: () => void;
    onstandard: () => void;
  }

  let { stand, whole, roomy, far, onfar, onstandard }: Props = $props();

  const more = $derived(stand.plan?.more ?? null);
</script>

{#if more && !whole && !stand.following}
  <span>
    {more.label} <strong>{stand.plan?.values[more.key]} {more.unit}</strong>
    <button class="act" aria-label="less: {more.label}" onclick={() => stand.turn(more, -1)}>
      <Key shown="−" />
    </button>
    <button class="act" aria-label="more: {more.label}" onclick={() => stand.turn(more, 1)}>
      <Key shown="+" />
    </button>
  </span>
{/if}
{#if roomy}
  <button class="act" onclick={onfar}>
    view <strong>{far ? 'far' : 'near'}</strong><Key shown="F" />
  </button>
{/if}
<button
  class="act"
  disabled={stand.following !== null}
  onclick={onstandard}
  title={standards().join(', ')}
>
  standard <strong>{who.current.standard}</strong><Key shown="G" />
</button>
