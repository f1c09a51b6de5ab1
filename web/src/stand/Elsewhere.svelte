<script lang="ts">
  import { house } from '../home/house.svelte';
  import Dialog from '../parts/Dialog.svelte';
  import Key from '../parts/Key.svelte';
  import type { Action } from '../parts/keys.svelte';
  import type { Stand } from './stand.svelte';

  /** What is at the foot of the Stand while another device listens: which one, and taking its place. */
  let { stand }: { stand: Stand } = $props();

  /** A line that breaks is back before that. */
  const GONE_AFTER_MS = 3000;

  /** Somebody asks to listen here in place of the other device. */
  let taking = $state(false);
  /** The other device has stopped listening, and not for a moment. */
  let gone = $state(false);
  const ear = $derived(stand.following);
  const device = $derived(ear ? ear.device.charAt(0).toUpperCase() + ear.device.slice(1) : '');
  const movable = $derived(ear?.source === 'microphone');

  $effect(() => {
    gone = false;
    if (!ear || house.ears.some(({ session }) => session === ear.session)) return;
    const timer = setTimeout(() => (gone = true), GONE_AFTER_MS);
    return () => clearTimeout(timer);
  });

  function take() {
    taking = false;
    void stand.listenHere();
  }

  export function actions(): Action[] {
    return [
      {
        keys: ['l'],
        shown: 'L',
        label: 'listen here instead',
        run: () => (taking = true),
        disabled: !movable,
        quiet: true,
      },
      {
        keys: ['Escape'],
        shown: 'Esc',
        label: 'show it no more',
        run: () => void stand.leaveFollowing(),
        quiet: true,
      },
    ];
  }
</script>

{#if ear}
  <span role="status">{gone ? `${device} has stopped listening.` : `${device} listens.`}</span>
  {#if movable}
    <button class="act" onclick={() => (taking = true)}>
      <Key shown="L" />listen here instead
    </button>
  {/if}
  <button class="act" onclick={() => void stand.leaveFollowing()}>
    <Key shown="Esc" />show it no more
  </button>
{/if}

<Dialog bind:open={taking} title="Listen on this device?">
  <p>{device} stops listening, and the session goes on here.</p>
  <button class="act-main" onclick={take}>Listen here<Key shown="Enter" /></button>
</Dialog>
