<script lang="ts">
  import type { FreeOver } from '../api/client';
  import Key from '../parts/Key.svelte';

  /** What was played without a task, once it is over. */
  interface Props {
    over: FreeOver;
    /** Whether it was thrown away; else it may be nobody's yet. */
    thrown: boolean;
    onopen: () => void;
    onthrow: () => void;
    /** Tells it bar by bar, where a piece was followed. */
    onbars?: () => void;
  }

  let { over, thrown, onopen, onthrow, onbars }: Props = $props();

  const knows = $derived(over.notes.some(({ usual }) => usual));
</script>

<section aria-label="What you played">
  {#each over.words as words (words)}<p class="words">{words}</p>{/each}
  {#if over.recording_id}
    <p class="ways">
      {#if onbars}
        <button class="act-main" onclick={onbars}><Key shown="B" />Bar by bar</button>
      {/if}
      <button class="act" onclick={onopen}><Key shown="Enter" />Hear it, and see it</button>
      <button class="act" onclick={onthrow}><Key shown="X" />Delete it</button>
    </p>
  {:else if over.notes.length && thrown}
    <p class="dim">Deleted.</p>
  {/if}
  {#if over.notes.length}
    <table>
      <thead>
        <tr>
          <th scope="col">note</th>
          <th scope="col">tuning</th>
          {#if knows}<th scope="col">in the last weeks</th>{/if}
          <th scope="col">times</th>
          <th scope="col">seconds</th>
        </tr>
      </thead>
      <tbody>
        {#each over.notes as note (note.name)}
          <tr>
            <th scope="row">{note.name}</th>
            <td>{note.words}</td>
            {#if knows}<td class="dim">{note.usual}</td>{/if}
            <td>{note.times}</td>
            <td>{note.seconds}</td>
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
</section>

<style>
  .words {
    font-size: 1.375rem;
  }

  .ways {
    display: flex;
    flex-wrap: wrap;
    gap: 0.3rem 1.4rem;
    padding-block: 0.8rem;
  }

  table {
    border-collapse: collapse;
    font-size: 1.25rem;
    min-width: min(34rem, 100%);
  }

  th,
  td {
    text-align: left;
    border-top: 1px solid var(--line);
    padding: 0.3rem 1.2rem 0.3rem 0;
  }

  thead th {
    color: var(--dim);
    font-weight: 400;
    border-top: 0;
  }

  tbody th {
    font-family: var(--font-note);
  }

  td:nth-last-child(-n + 2),
  th:nth-last-child(-n + 2) {
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
</style>
