<script lang="ts">
  import { answer, api, asSet, type Schemas } from '../api/client';
  import Music from './Music.svelte';

  /** The first notes of an exercise, drawn once they come into view. */
  interface Props {
    playerId: number;
    family: string;
    values: Record<string, string>;
  }

  let { playerId, family, values }: Props = $props();

  let opening = $state.raw<Schemas['OpeningOut'] | null>(null);
  let seen = $state(false);

  function watch(node: HTMLElement) {
    const watcher = new IntersectionObserver(
      (entries) => {
        if (entries.some((one) => one.isIntersecting)) seen = true;
      },
      { rootMargin: '200px' },
    );
    watcher.observe(node);
    return () => watcher.disconnect();
  }

  $effect(() => {
    if (!seen) return;
    let mine = true;
    opening = null;
    const asked = api.GET('/api/players/{player_id}/book/{family}/opening', {
      params: { path: { player_id: playerId, family }, query: { set: asSet(values) } },
    });
    // Without its first notes a line still says what it is.
    answer(asked).then(
      (found) => (opening = mine ? found : opening),
      () => {},
    );
    return () => (mine = false);
  });
</script>

{#if opening === null || opening.svg}
  <div class="opening" {@attach watch}>
    {#if opening}<Music svg={opening.svg} described={opening.described} fill />{/if}
  </div>
{/if}

<style>
  .opening {
    --music-height: 3.9rem;

    height: 3.9rem;
    min-width: 0;
    overflow: hidden;
  }

  .opening > :global(.music) {
    padding: 0;
    overflow: hidden;
  }

  .opening :global(svg) {
    height: 3.9rem;
  }

  /* The notes alone: what they are recognised by. */
  .opening :global(:is(.tempo, .dynam, .dir, .verse, .fing, .breath, .hairpin)) {
    display: none;
  }
</style>
