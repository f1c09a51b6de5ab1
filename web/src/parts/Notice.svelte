<script lang="ts">
  import type { Snippet } from 'svelte';

  /** A screen for when something is missing or lost: what it is, and what to do. */
  let { title, detail, children }: { title: string; detail: string; children?: Snippet } = $props();
</script>

<section role="alert">
  <h2>{title}</h2>
  <p>{detail}</p>
  <div class="ways">{@render children?.()}</div>
</section>

<style>
  section {
    max-width: 44rem;
    align-self: center;
  }

  h2 {
    font-size: clamp(1.9rem, 4.2vw, 3rem);
  }

  p {
    font-size: 1.3rem;
    margin-block: 0.9rem 1.6rem;
    white-space: pre-line;
  }

  .ways {
    display: flex;
    flex-wrap: wrap;
    gap: 0.8rem 1.6rem;
    align-items: center;
  }
</style>
