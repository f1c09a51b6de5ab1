<script lang="ts">
  import type { Schemas } from '../api/client';
  import { dayOf, longDay } from '../parts/dates';

  /** Every spot that was bookmarked and not gone back to yet. */
  interface Props {
    bookmarks: Schemas['BookmarkedOut'][];
    ondone: (bookmark: Schemas['BookmarkedOut']) => void;
  }

  let { bookmarks, ondone }: Props = $props();
</script>

{#if bookmarks.length}
  <section aria-label="Still to go back to">
    <h2>Still to go back to</h2>
    <ul>
      {#each bookmarks as bookmark (bookmark.id)}
        <li>
          <a href="#/{bookmark.kind}/{bookmark.kept_id}?at={bookmark.at_s}">
            <span class="dim">{longDay(dayOf(bookmark.started_at.slice(0, 10)))}</span>
            {bookmark.said_by && `${bookmark.said_by}: `}{bookmark.words || 'a spot'}
            <span class="dim">at {bookmark.at_s.toFixed(1)} s</span>
          </a>
          <button class="act dim" onclick={() => ondone(bookmark)}>been there</button>
        </li>
      {/each}
    </ul>
  </section>
{/if}

<style>
  h2 {
    font-size: 1.4rem;
    padding-top: 1.2rem;
  }

  li {
    display: flex;
    align-items: center;
    gap: 1rem;
    border-bottom: 1px solid var(--line);
  }

  a {
    flex: 1;
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0 0.6rem;
    min-height: 2.6rem;
    overflow-wrap: anywhere;
  }
</style>
