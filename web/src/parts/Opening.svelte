<script lang="ts" module>
  import { SvelteMap } from 'svelte/reactivity';
  import { answer, api, asSet, type Schemas } from '../api/client';

  type Opening = Schemas['OpeningOut'];

  /** What was drawn once, by its address: lists are left and come back. */
  const drawn = new SvelteMap<string, Promise<Opening>>();

  function openingOf(player_id: number, family: string, values: Record<string, string>) {
    const set = asSet(values);
    const key = [player_id, family, ...set].join('\n');
    const found =
      drawn.get(key) ??
      answer(
        api.GET('/api/players/{player_id}/book/{family}/opening', {
          params: { path: { player_id, family }, query: { set } },
        }),
      );
    drawn.set(key, found);
    // What failed is asked for again next time.
    found.catch(() => drawn.delete(key));
    return found;
  }
</script>

<script lang="ts">
  import Music from './Music.svelte';

  /** The first notes of an exercise, drawn once they come into view. */
  interface Props {
    playerId: number;
    family: string;
    values: Record<string, string>;
  }

  let { playerId, family, values }: Props = $props();

  let opening = $state.raw<Opening | null>(null);
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
    // Without its first notes a line still says what it is.
    openingOf(playerId, family, values).then(
      (found) => (opening = mine ? found : opening),
      () => {},
    );
    return () => (mine = false);
  });
</script>

<div class="opening" {@attach watch}>
  {#if opening?.svg}<Music svg={opening.svg} described={opening.described} fill />{/if}
</div>

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
