<script lang="ts">
  import type { PieceOver } from '../api/client';
  import { dayName } from '../takes/days';

  /** The recordings that a piece was played in. */
  interface Props {
    times: PieceOver;
    /** Takes one of them out: it was not this piece. */
    ontakeout: (recordingId: string) => void;
  }

  let { times, ontakeout }: Props = $props();
</script>

{#if times.recordings.length}
  <details>
    <summary>Recordings it was played in ({times.recordings.length})</summary>
    <ul>
      {#each times.recordings as one (one.recording_id)}
        <li>
          <a href="#/recordings/{one.recording_id}">{one.name}</a>
          <span class="dim">{dayName(new Date(one.started_at), new Date())}, {one.times_words}</span
          >
          <button class="act" onclick={() => ontakeout(one.recording_id)}
            >it was not this piece</button
          >
        </li>
      {/each}
    </ul>
  </details>
{/if}

<style>
  summary {
    cursor: pointer;
    font-weight: 700;
    min-height: 1.75rem;
  }

  li {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0 1.2rem;
  }

  a {
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }
</style>
