<script lang="ts">
  import type { Schemas } from '../api/client';

  /** The exercises of a session in order: what is over, where one is, what is to come. */
  let { blocks }: { blocks: Schemas['BlockLine'][] } = $props();
</script>

<ol aria-label="The session">
  {#each blocks as block, i (i)}
    <li
      class:now={block.now}
      class:over={block.result !== ''}
      aria-current={block.now || undefined}
    >
      {block.title}
    </li>
  {/each}
</ol>

<style>
  ol {
    display: flex;
    gap: 3px;
    min-width: 0;
  }

  li {
    flex: 1 1 0;
    min-width: 0;
    padding-top: 0.2rem;
    border-top: 4px solid var(--line);
    color: var(--dim);
    font-size: 0.95rem;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }

  .over {
    border-color: var(--asked);
  }

  .now {
    flex-grow: 1.8;
    border-color: var(--sound);
    color: var(--ink);
    font-weight: 700;
  }

  @media (max-width: 760px) {
    li:not(.now) {
      color: transparent;
      flex-grow: 0.4;
    }
  }
</style>
