<script lang="ts">
  import { known } from '../api/fields.svelte';
  import Key from '../parts/Key.svelte';
  import type { Listening } from './listening.svelte';

  let { listening }: { listening: Listening } = $props();

  let words = $state('');
  let field = $state<HTMLInputElement>();

  const bookmark = $derived(known.fields.listening.bookmark);

  $effect(() => {
    if (listening.bookmarking) field?.focus();
  });

  function keep(event: SubmitEvent) {
    event.preventDefault();
    void listening.bookmark(words);
    words = '';
  }
</script>

{#if listening.bookmarking}
  <form class="bookmarking" onsubmit={keep} aria-label="A bookmark">
    <label>
      What is at {listening.cursorS.toFixed(2)} s?
      <input
        bind:this={field}
        bind:value={words}
        class="input"
        maxlength={bookmark?.longest}
        placeholder={bookmark?.label}
      />
    </label>
    <button class="act-main">Keep<Key shown="Enter" /></button>
    <button class="act" type="button" onclick={() => (listening.bookmarking = false)}>
      <Key shown="Esc" />no bookmark
    </button>
  </form>
{:else if listening.bookmarks.length}
  <ol class="bookmarks" aria-label="Bookmarks">
    {#each listening.bookmarks as bookmark, i (bookmark.id)}
      <li>
        <button class="spot" onclick={() => listening.seek(bookmark.at_s)}>
          <span class="number">{i + 1}</span>
          {bookmark.said_by && `${bookmark.said_by}: `}{bookmark.words || 'a spot'}
          <span class="dim"
            >{bookmark.at_s.toFixed(1)} s{bookmark.gone_back ? ', been there' : ''}</span
          >
        </button>
        <button
          class="act been"
          aria-pressed={bookmark.gone_back}
          onclick={() => listening.goneBack(bookmark)}
        >
          {bookmark.gone_back ? 'still to do' : 'been there'}
        </button>
        <button
          class="act away"
          aria-label="take bookmark {i + 1} away"
          onclick={() => listening.removeBookmark(bookmark)}>×</button
        >
      </li>
    {/each}
  </ol>
{/if}
{#if listening.trouble}<p role="alert">{listening.trouble}</p>{/if}

<style>
  .bookmarking {
    display: flex;
    flex-wrap: wrap;
    align-items: end;
    gap: 0.8rem;
    padding-block: 0.6rem;
  }

  label {
    flex: 1;
    min-width: 16rem;
  }

  .bookmarks {
    display: flex;
    flex-wrap: wrap;
    gap: 0.2rem 1.4rem;
    padding-block: 0.4rem;
  }

  .bookmarks li {
    display: flex;
    align-items: center;
    gap: 0.9rem;
  }

  .spot {
    cursor: pointer;
    min-height: 2.2rem;
    font-size: 1.0625rem;
  }

  .been {
    color: var(--dim);
    font-size: 0.9375rem;
  }

  .away {
    min-width: 2.2rem;
    min-height: 2.2rem;
    justify-content: center;
    font-size: 1.3rem;
  }

  .number {
    display: inline-block;
    min-width: 1.5rem;
    padding-inline: 0.35rem;
    margin-right: 0.3rem;
    text-align: center;
    font-weight: 700;
    color: var(--paper);
    background: var(--asked);
    border-radius: 3px;
  }
</style>
