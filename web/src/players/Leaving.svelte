<script lang="ts">
  import { answer, api, problemOf, type Player, type Problem } from '../api/client';
  import Dialog from '../parts/Dialog.svelte';
  import Key from '../parts/Key.svelte';
  import { Loaded } from '../parts/loaded.svelte';

  /** Asks before a player is deleted, and names what goes with them. */
  interface Props {
    player: Player;
    open: boolean;
    ongone: () => void;
  }

  let { player, open = $bindable(), ongone }: Props = $props();

  let problem = $state.raw<Problem | null>(null);
  const params = $derived({ path: { player_id: player.id } });
  const holding = new Loaded(() => answer(api.GET('/api/players/{player_id}/holding', { params })));

  $effect(() => {
    if (open) void holding.load();
  });

  async function remove() {
    try {
      await answer(api.DELETE('/api/players/{player_id}', { params }));
      open = false;
      ongone();
    } catch (error) {
      problem = problemOf(error);
    }
  }

  function press(event: KeyboardEvent) {
    if (open && event.key === 'Delete') void remove();
  }
</script>

<svelte:window onkeydown={press} />

<Dialog bind:open title="Delete {player.name}?">
  {#if holding.value}
    <p>With {player.name} go: {holding.value.words}.</p>
    <p>
      They can be brought back for {holding.value.days} days. Then they are gone from the file too; copies
      of it that were kept before still hold them.
    </p>
  {/if}
  {#if problem ?? holding.problem}
    <p role="alert">{(problem ?? holding.problem)?.detail}</p>
  {/if}
  <button class="act" disabled={!holding.value} onclick={() => void remove()}>
    <Key shown="Delete" />delete {player.name}
  </button>
</Dialog>

<style>
  p {
    max-width: 34rem;
    font-size: 1.1rem;
  }
</style>
