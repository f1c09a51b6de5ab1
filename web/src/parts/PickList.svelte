<script lang="ts" generics="T extends { key: string }">
  import type { Snippet } from 'svelte';
  import type { Listed } from './listed.svelte';

  /** The list at the side of a view, of which one is chosen; `line` says what stands in a row. */
  interface Props {
    label: string;
    of: Listed<T>;
    line: Snippet<[T]>;
  }

  const { label, of, line }: Props = $props();

  let list = $state<HTMLElement>();
  // What is chosen by key stays in sight.
  $effect(() => {
    const chosen = list?.children[of.at]?.getBoundingClientRect();
    const seen = list?.getBoundingClientRect();
    if (!list || !chosen || !seen) return;
    if (chosen.top < seen.top) list.scrollTop += chosen.top - seen.top;
    else if (chosen.bottom > seen.bottom) list.scrollTop += chosen.bottom - seen.bottom;
  });
</script>

<ol bind:this={list} aria-label={label}>
  {#each of.list as one, i (one.key)}
    <li>
      <button aria-pressed={i === of.at} onclick={() => (of.at = i)}>{@render line(one)}</button>
    </li>
  {/each}
</ol>

<style>
  button {
    display: grid;
    width: 100%;
    min-height: 48px;
    text-align: left;
    padding: 0.4rem 0.8rem;
    border-bottom: 1px solid var(--line);
    border-left: 3px solid transparent;
    cursor: pointer;
    line-height: 1.25;
  }

  button[aria-pressed='true'] {
    border-left-color: var(--sound);
  }
</style>
