<script lang="ts">
  import type { Schemas } from '../api/client';

  /** The holds of a set, whose picture comes only once there is one: with the charts' library it is
   * more than the first view has room for. */
  interface Props {
    holds: Schemas['HoldsOut'];
    small?: boolean;
  }

  let { holds, small = false }: Props = $props();
</script>

{#await import('./Holds.svelte') then { default: Holds }}
  <Holds {holds} {small} />
{:catch}
  <!-- The server does not answer: the words are there already. -->
  <p>{holds.words.join(' ')}</p>
{/await}
