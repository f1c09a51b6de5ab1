<script lang="ts">
  import { registersOf, type Section, type Sought } from './finding';

  /** What is looked for in the book: typed, or chosen from lists. */
  interface Props {
    everything: Section[];
    sought: Sought;
  }

  let { everything, sought = $bindable() }: Props = $props();

  let field = $state<HTMLInputElement>();

  /** Goes to where one types. */
  export function focus(): void {
    field?.focus();
  }
</script>

<form role="search" onsubmit={(event) => event.preventDefault()}>
  <label>
    <span>Find</span>
    <input bind:this={field} bind:value={sought.words} class="input" type="search" maxlength="60" />
  </label>
  <label>
    <span>Part of the day</span>
    <select class="select" bind:value={sought.part}>
      <option value="">all</option>
      {#each everything as { name } (name)}<option value={name}>{name}</option>{/each}
    </select>
  </label>
  <label>
    <span>Highest note</span>
    <select class="select" bind:value={sought.register}>
      <option value="">anywhere</option>
      {#each registersOf(everything) as one (one)}<option value={one}>{one}</option>{/each}
    </select>
  </label>
  <label>
    <span>Length</span>
    <select class="select" bind:value={sought.minutes}>
      <option value={0}>any</option>
      <option value={0.5}>half a minute</option>
      <option value={1}>a minute at most</option>
      <option value={3}>3 minutes at most</option>
    </select>
  </label>
</form>

<style>
  form {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem 1.4rem;
    padding-top: 0.8rem;
  }

  label {
    display: grid;
    gap: 0.1rem;
    flex: 1 1 9rem;
  }

  label:first-child {
    flex-grow: 3;
  }

  span {
    color: var(--dim);
    font-size: 0.9375rem;
  }
</style>
