<script lang="ts">
  import Key from '../parts/Key.svelte';
  import { LENGTHS, LOUDNESS, withoutLast, withWord } from './line';
  import type { Tapping } from './tapping.svelte';

  /** The horn's slots to tap in order, length by length, and the pen that writes them. */
  interface Props {
    tapping: Tapping;
    line: string;
    onwrite: (line: string) => void;
  }

  let { tapping, line, onwrite }: Props = $props();

  const highest = $derived(
    Math.max(1, ...tapping.columns.flatMap(({ slots }) => slots.map(({ partial }) => partial))),
  );

  function tap(column: number, partial: number) {
    tapping.column = column;
    tapping.partial = partial;
    onwrite(tapping.tapped(line));
  }
</script>

<section class="taps" aria-label="Slots to tap">
  <div class="pen">
    <label>
      beats
      <select class="select w-auto" bind:value={tapping.pen.beats}>
        {#each LENGTHS as beats (beats)}<option value={beats}>{beats}</option>{/each}
      </select>
      <Key shown="," /><Key shown="." />
    </label>
    <label>
      loud
      <select class="select w-auto" bind:value={tapping.pen.loud}>
        {#each LOUDNESS as loud (loud)}<option value={loud}>{loud}</option>{/each}
      </select>
      <Key shown="S" /><Key shown="F" />
    </label>
    <label class="slur">
      <input type="checkbox" class="checkbox" bind:checked={tapping.pen.slurred} />
      slurred <Key shown="L" />
    </label>
    <button
      type="button"
      class="act"
      onclick={() => onwrite(withWord(line, `-:${tapping.pen.beats}`))}
    >
      rest<Key shown="R" />
    </button>
    <button type="button" class="act" onclick={() => onwrite(withWord(line, "'"))}>
      breath<Key shown="B" />
    </button>
    <button type="button" class="act" disabled={!line} onclick={() => onwrite(withoutLast(line))}>
      take back<Key shown="⌫" />
    </button>
    <button type="button" class="act" disabled={!line} onclick={() => onwrite('')}>
      all of it away
    </button>
  </div>
  <div class="map">
    {#each tapping.columns as column, at (column.name)}
      <div class="column" style:grid-template-rows="repeat({highest}, auto) auto">
        {#each column.slots as slot (slot.partial)}
          <button
            type="button"
            class="slot"
            class:chosen={at === tapping.column && slot.partial === tapping.partial}
            style:grid-row={highest - slot.partial + 1}
            aria-label="{slot.name}, {column.hand}, slot {slot.partial}"
            onclick={() => tap(at, slot.partial)}
          >
            {slot.name}
          </button>
        {/each}
        <span class="dim" style:grid-row={highest + 1}>{column.name}</span>
      </div>
    {/each}
  </div>
</section>

<style>
  .pen {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.4rem 1.4rem;
    padding-bottom: 0.6rem;
  }

  .pen label {
    display: flex;
    align-items: center;
    gap: 0.4rem;
    color: var(--dim);
  }

  .map {
    display: flex;
    gap: 0.35rem;
    overflow-x: auto;
    padding-bottom: 0.4rem;
  }

  .column {
    display: grid;
    gap: 0.2rem;
    justify-items: center;
    flex: 1 0 3.4rem;
  }

  .slot {
    width: 100%;
    min-height: 1.75rem;
    background: var(--sheet);
    border: 1px solid var(--line);
    border-radius: 3px;
    font-weight: 700;
    line-height: 1.2;
  }

  .slot:hover {
    border-color: var(--ink);
  }

  .chosen {
    border: 2px solid var(--asked);
    color: var(--asked);
  }

  @media print {
    .taps {
      display: none;
    }
  }
</style>
