<script lang="ts">
  import type { Snippet } from 'svelte';
  import Key from './Key.svelte';
  import type { Problem } from '../api/client';

  /**
   * A form: Enter keeps it and Esc leaves it; its view offers both as keys, so that they work
   * from anywhere.
   */
  interface Props {
    label: string;
    children: Snippet;
    problem?: Problem | null;
    /** What keeping it is called. */
    keeps?: string;
    /** What leaving it is called; none when it cannot be left. */
    leaves?: string;
    keep: () => void;
    leave?: () => void;
    /** More that can be done with it. */
    more?: Snippet;
  }

  let {
    label,
    children,
    problem = null,
    keeps = 'Keep',
    leaves = 'leave it',
    keep,
    leave,
    more,
  }: Props = $props();

  function submit(event: SubmitEvent) {
    event.preventDefault();
    keep();
  }
</script>

<!-- What is wrong with a value the server says, in our words. -->
<form onsubmit={submit} aria-label={label} novalidate>
  {#if problem}<p role="alert" class="problem">{problem.title}. {problem.detail}</p>{/if}
  {@render children()}
  <div class="acts">
    <button class="act-main" type="submit">{keeps}<Key shown="Enter" /></button>
    {@render more?.()}
    {#if leave}
      <button class="act" type="button" onclick={leave}><Key shown="Esc" />{leaves}</button>
    {/if}
  </div>
</form>

<style>
  form {
    display: grid;
    gap: 0.9rem;
    align-content: start;
  }

  .acts {
    grid-column: 1 / -1;
    display: flex;
    flex-wrap: wrap;
    gap: 0.6rem 1.6rem;
    align-items: center;
  }

  .problem {
    grid-column: 1 / -1;
    color: var(--high);
    font-weight: 700;
  }
</style>
