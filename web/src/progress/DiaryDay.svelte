<script lang="ts">
  import type { Schemas } from '../api/client';
  import { clock } from '../takes/days';
  import SessionHead from '../takes/SessionHead.svelte';

  /** A day of the diary: what moved, what the player said to themselves, what they marked. */
  interface Props {
    of: Schemas['DiaryPageOut'];
    /** Takes away what was written down elsewhere. */
    onforget?: (id: number) => void;
  }

  let { of, onforget }: Props = $props();
</script>

<section aria-label={of.title}>
  <h2>{of.title}</h2>
  <p class="sum">{of.words}</p>
  {#if of.day.event}<p class="event">{of.day.event}</p>{/if}
  {#if of.day.hurt}<p class="event">Something hurt.</p>{/if}
  {#each of.sessions as session (session.id)}<SessionHead {session} />{/each}
  {#each of.free as one (one.started_at)}
    <h3>
      Free <span class="dim">{clock(one.started_at)}</span>
      {#if one.recording_id}<a class="underlined" href="#/recordings/{one.recording_id}">hear it</a
        >{/if}
    </h3>
    <p>{one.words}</p>
  {/each}
  {#each of.typed as one (one.id)}
    <p class="typed">
      <span
        >{Math.round(one.minutes)} min written down elsewhere{one.words && `: ${one.words}`}</span
      >
      {#if onforget}
        <button class="act dim" onclick={() => onforget(one.id)}>delete it</button>
      {/if}
    </p>
  {/each}
  {#each of.said as one, i (i)}
    <blockquote>
      {#if one.words}<p>{one.words}</p>{/if}
      <p class="dim">{one.said_by}, of your report</p>
    </blockquote>
  {/each}
  {#if of.bookmarks.length}
    <h3>Bookmarks</h3>
    <ul>
      {#each of.bookmarks as bookmark, i (i)}
        <li>
          <a href="#/{bookmark.kind}/{bookmark.kept_id}?at={bookmark.at_s}">
            <span class="dim">{clock(bookmark.started_at)}, at {bookmark.at_s.toFixed(1)} s</span>
            {bookmark.said_by && `${bookmark.said_by}: `}{bookmark.words || 'no words'}
            {#if bookmark.gone_back}<span class="dim">been there</span>{/if}
          </a>
        </li>
      {/each}
    </ul>
  {/if}
</section>

<style>
  h2 {
    font-size: 1.5rem;
  }

  h3 {
    font-size: 1.15rem;
    padding-top: 0.8rem;
  }

  .sum {
    font-size: 1.15rem;
    padding-block: 0.2rem 0.4rem;
  }

  .event {
    border-left: 3px solid var(--low);
    padding-left: 0.8rem;
    margin-block: 0.4rem;
  }

  h3 .dim,
  h3 a {
    font-weight: 400;
    font-size: 1rem;
  }

  .typed {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0 1rem;
    overflow-wrap: anywhere;
  }

  blockquote {
    border-left: 3px solid var(--asked);
    padding-left: 0.8rem;
    margin-block: 0.4rem;
    overflow-wrap: anywhere;
  }

  li a {
    display: block;
    min-height: 2.6rem;
    padding-block: 0.3rem;
  }
</style>
