<script lang="ts">
  import type { OwnExercise } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import Notice from '../parts/Notice.svelte';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';
  import Exercise from './Exercise.svelte';
  import { ownExercises } from './own';

  /** The page of an exercise that the player keeps under a name. */
  let { params }: { params: { id: string } } = $props();

  const player = $derived(who.current);
  const all = new Loaded<OwnExercise[]>((signal) => ownExercises(player.id, signal));
  const own = $derived(all.value?.find(({ id }) => id === params.id));

  $effect(() => {
    void params.id;
    void all.load();
  });
</script>

{#if own}
  {#key own.id}
    <Exercise params={{ family: own.family }} {own} />
  {/key}
{:else}
  <View wide problem={all.problem} retry={() => all.load()}>
    {#if all.value}
      <Notice title="It is not there any more" detail="It was deleted, or is another player’s.">
        <a class="act-main" href="#/book">The book</a>
      </Notice>
    {/if}
  </View>
{/if}
