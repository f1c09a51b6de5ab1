<script lang="ts">
  import type { Verdict } from '../api/client';
  import Rules from './Rules.svelte';

  /** The verdict, said first in words and then in numbers. */
  let { verdict }: { verdict: Pick<Verdict, 'passed' | 'headline' | 'change' | 'rules'> } =
    $props();

  /** So many letters stand in one line however large they are. */
  const SHORT = 8;
</script>

<div class="verdict" role="status">
  <h2 class:go={verdict.passed} class:short={verdict.headline.length <= SHORT}>
    {verdict.headline}
  </h2>
  {#if verdict.change}<p>{verdict.change}</p>{/if}
  <Rules rules={verdict.rules} />
</div>

<style>
  .verdict {
    container-type: inline-size;
  }

  h2 {
    font-size: clamp(2.25rem, 8.4cqw, 4rem);
    color: var(--ink);
  }

  h2.go {
    color: var(--asked);
  }

  p {
    font-size: clamp(1.125rem, 2.9cqw, 1.5rem);
    margin-block: 0.3rem 0.2rem;
  }

  .verdict > :global(dl) {
    margin-top: 0.7rem;
  }
</style>
