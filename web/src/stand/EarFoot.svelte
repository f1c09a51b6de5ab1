<script lang="ts">
  import Check from '../microphone/Check.svelte';
  import Meter from '../microphone/Meter.svelte';
  import type { Stand } from './stand.svelte';

  /** What this device listens with: which input, how loud it is, and how well it hears. */
  interface Props {
    stand: Stand;
    /** The microphone is being looked at. */
    checking: boolean;
    onmicrophone: () => void;
  }

  let { stand, checking = $bindable(), onmicrophone }: Props = $props();

  const standIn = $derived(stand.source === 'stand-in');
</script>

{#if !standIn && stand.inputs.length > 1}
  <select
    class="select w-auto"
    aria-label="Input"
    bind:value={stand.inputId}
    onchange={onmicrophone}
  >
    <option value="">the usual input</option>
    {#each stand.inputs as input (input.id)}<option value={input.id}>{input.label}</option>{/each}
  </select>
{/if}
{#if stand.line === 'lost'}<span role="status">reconnecting…</span>{/if}
{#if standIn}
  <Meter level={stand.level} label="Stand-in" />
{:else}
  <Meter level={stand.level} label="Microphone" onopen={() => (checking = true)} />
  <Check level={stand.level} bind:open={checking} />
{/if}
