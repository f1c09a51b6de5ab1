<script lang="ts">
  import NoteName from '../parts/NoteName.svelte';
  import Numbers from '../parts/Numbers.svelte';
  import Spot from './Spot.svelte';
  import type { Comparison } from './compared.svelte';

  /** What differs between two sounds of one passage, in words and note by note. */
  interface Props {
    comparison: Comparison;
    onseek: (seconds: number) => void;
  }

  let { comparison, onseek }: Props = $props();
</script>

<div class="comparison">
  <ul>
    {#each comparison.words as words (words)}<li>{words}</li>{/each}
  </ul>
  {#if comparison.notes.length}
    <div class="notes">
      <Numbers
        columns={['at', 'note', 'tuning', 'tuning there', 'length', 'length there']}
        rows={comparison.notes}
      >
        {#snippet row(note)}
          <td><Spot atS={note.at_s} {onseek} /></td>
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
  .comparison {
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

  @media (max-width: 760px) {
    .comparison {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
