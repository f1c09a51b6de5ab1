<script lang="ts" generics="T">
  import type { Snippet } from 'svelte';

  /** Numbers as a table: one row an entry; the cells are the caller's. */
  interface Props {
    columns: string[];
    rows: T[];
    row: Snippet<[T]>;
  }

  let { columns, rows, row }: Props = $props();
</script>

<table>
  <thead>
    <tr>
      {#each columns as column (column)}<th scope="col">{column}</th>{/each}
    </tr>
  </thead>
  <tbody>
    {#each rows as one, i (i)}<tr>{@render row(one)}</tr>{/each}
  </tbody>
</table>

<style>
  table {
    width: 100%;
    border-collapse: collapse;
  }

  th {
    position: sticky;
    top: 0;
    background: var(--paper);
    color: var(--dim);
    font-weight: 400;
    text-align: left;
    padding: 0.2rem 0.6rem 0.4rem 0;
  }

  tbody :global(td) {
    border-top: 1px solid var(--line);
    padding: 0.25rem 0.6rem 0.25rem 0;
    white-space: nowrap;
  }
</style>
