<script lang="ts">
  import NoteName from '../parts/NoteName.svelte';
  import Numbers from '../parts/Numbers.svelte';
  import type { Beside } from './compared.svelte';

  /** What differs between two sounds of one passage, in words and note by note. */
  interface Props {
    beside: Beside;
    onseek: (seconds: number) => void;
  }

  let { beside, onseek }: Props = $props();
</script>

<div class="beside">
  <ul>
    {#each beside.words as words (words)}<li>{words}</li>{/each}
  </ul>
  {#if beside.notes.length}
    <div class="notes">
      <Numbers
        columns={['at', 'note', 'tuning', 'tuning there', 'length', 'length there']}
        rows={beside.notes}
      >
        {#snippet row(note)}
          <td>
            <button class="spot" onclick={() => onseek(note.at_s)}>{note.at_s.toFixed(1)} s</button>
          </td>
          <td class="name"><NoteName name={note.name} /></td>
          <td>{note.off}</td>
          <td>{note.other_off}</td>
          <td>{note.seconds.toFixed(2)} s</td>
          <td>{note.other_seconds.toFixed(2)} s</td>
        {/snippet}
      </Numbers>
    </div>
  {/if}
</div>

<style>
  .beside {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    gap: 0.6rem 2.6rem;
    padding-block: 0.4rem 1rem;
    font-size: 1.15rem;
  }

  .notes {
    max-height: 15rem;
    overflow-y: auto;
    font-size: 1rem;
  }

  .name {
    font-weight: 700;
  }

  .spot {
    cursor: pointer;
    min-height: 1.75rem;
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }

  @media (max-width: 760px) {
    .beside {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
