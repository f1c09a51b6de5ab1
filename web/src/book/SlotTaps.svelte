<script lang="ts">
  import Key from '../parts/Key.svelte';
  import { withoutLast, withWord } from './line';
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

  let map = $state<HTMLElement>();

  // The chosen slot stays in view.
  $effect(() => {
    void [tapping.column, tapping.partial, tapping.columns.length];
    map?.querySelector('.chosen')?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  });

  function tap(column: number, partial: number) {
    tapping.column = column;
    tapping.partial = partial;
    onwrite(tapping.tapped(line));
  }
</script>

<section class="taps" aria-label="Slots to tap">
  <div class="pen">
    <label>
      {tapping.beats.label}
      <select class="select w-auto" bind:value={tapping.pen.beats}>
        {#each tapping.beats.choices as { value, label } (value)}
          <option {value}>{label}</option>
        {/each}
      </select>
      <Key shown="," /><Key shown="." />
    </label>
    <label>
      {tapping.loud.label}
      <select class="select w-auto" bind:value={tapping.pen.loud}>
        {#each tapping.loud.choices as { value, label } (value)}
          <option {value}>{label}</option>
        {/each}
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
  <div class="map" bind:this={map} style:--columns={tapping.columns.length}>
    {#each tapping.columns as column, at (column.name)}
      <span class="dim name" style:grid-area="1 / {at + 1}">{column.name}</span>
      {#each column.slots as slot (slot.partial)}
        <button
          type="button"
          class="slot"
          class:chosen={at === tapping.column && slot.partial === tapping.partial}
          style:grid-area="{highest - slot.partial + 2} / {at + 1}"
          aria-label="{slot.name}, {column.hand}, partial {slot.partial}"
          onclick={() => tap(at, slot.partial)}
        >
          {slot.name}
        </button>
      {/each}
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
    display: grid;
    grid-template-columns: repeat(var(--columns), minmax(3.3rem, 1fr));
    grid-auto-rows: 1.9rem;
    gap: 0.2rem 0.3rem;
    max-height: 17rem;
    overflow: auto;
    margin-bottom: 1rem;
  }

  .name {
    position: sticky;
    top: 0;
    text-align: center;
    background: var(--paper);
    font-weight: 700;
  }

  .slot {
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
