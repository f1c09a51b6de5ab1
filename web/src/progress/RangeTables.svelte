<script lang="ts">
  import type { Schemas } from '../api/client';
  import Numbers from '../parts/Numbers.svelte';
  import { dayOf, shortDay } from '../parts/dates';
  import { between, named, type RangeNote, type RangeRow } from './tubes';

  /** What the picture of the range shows, in numbers: the weeks, and the days of one note. */
  interface Props {
    rows: RangeRow[];
    notes: RangeNote[];
    page: Schemas['NotePageOut'] | null;
  }

  let { rows, notes, page }: Props = $props();
</script>

<div class="tables">
  <Numbers
    columns={['week of', 'part', 'secure', 'held', 'reached']}
    rows={rows.flatMap((row) => row.parts.map((span) => ({ row, span })))}
  >
    {#snippet row({ row, span })}
      <td>{named(row)}</td>
      <td>{span.part}</td>
      <td>{between(notes, span.bottom.secure, span.top.secure)}</td>
      <td>{between(notes, span.bottom.held, span.top.held)}</td>
      <td>{between(notes, span.bottom.reached, span.top.reached)}</td>
    {/snippet}
  </Numbers>
  {#if page}
    <Numbers
      columns={[
        `${page.note.name} on`,
        'spoke',
        'held, s',
        'centre, cents',
        'steady, ± cents',
        'response, ms',
        'clear, dB',
      ]}
      rows={[...page.days].reverse()}
    >
      {#snippet row(one)}
        <td>{shortDay(dayOf(one.on))}</td>
        <td>{one.spoke} of {one.asked}</td>
        <td>{one.held_s.toFixed(1)}</td>
        <td>{one.centre_cents?.toFixed(0) ?? '–'}</td>
        <td>{one.spread_cents?.toFixed(0) ?? '–'}</td>
        <td>{one.rise_s === null ? '–' : (1000 * one.rise_s).toFixed(0)}</td>
        <td>{one.harmonicity_db?.toFixed(0) ?? '–'}</td>
      {/snippet}
    </Numbers>
  {/if}
</div>

<style>
  .tables {
    flex: 1;
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(min(100%, 26rem), 1fr));
    gap: 2rem;
    align-items: start;
    overflow-x: auto;
  }
</style>
