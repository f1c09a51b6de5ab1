<script lang="ts">
  import { clock } from './days';
  import type { SessionLine } from './sessions';

  /** A whole session over its takes: how it went, and what the player said to themselves. */
  let { session }: { session: SessionLine } = $props();
</script>

<div class="head">
  <h3>
    {session.title} <span class="dim">{clock(session.started_at)}</span>
    {#if !session.ended}<span class="dim">· can be gone on with on the Stand</span>{/if}
  </h3>
  {#if session.results.length}<p>{session.results.join(' ')}</p>{/if}
  {#if session.note}<p class="note">“{session.note}”</p>{/if}
  {#if session.has_memo}
    <audio controls preload="none" src="/api/sessions/{session.id}/memo" aria-label="Spoken note"
    ></audio>
  {/if}
</div>

<style>
  .head {
    padding-block: 0.8rem 0.4rem;
    border-bottom: 1px solid var(--line);
  }

  h3 {
    font-family: var(--font-note);
    font-weight: 700;
    font-size: 1.25rem;
  }

  h3 .dim {
    font-family: var(--font-text);
    font-weight: 400;
    font-size: 1rem;
  }

  p {
    max-width: 60rem;
  }

  .note {
    font-style: italic;
  }
</style>
