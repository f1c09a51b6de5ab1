<script lang="ts">
  import type { RuleLine } from '../api/client';
  import RuleBar from './RuleBar.svelte';

  /** Every rule with its number, its unit and a small scale whose tick is the limit. */
  let { rules }: { rules: RuleLine[] } = $props();
</script>

<dl>
  {#each rules as rule (rule.rule)}
    <div class:missed={!rule.passed}>
      <dt>{rule.rule}</dt>
      <dd>
        {#if rule.told && rule.limit}
          <RuleBar {rule} />
        {/if}
        <strong>{rule.words}</strong>
        <span class="dim">{rule.unit}</span>
        {#if !rule.passed && rule.limit_words}
          <span class="asked">({rule.limit_words})</span>
        {/if}
      </dd>
    </div>
  {/each}
</dl>

<style>
  dl {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(17rem, 1fr));
    gap: 0.35rem 2rem;
  }

  div,
  dd {
    display: flex;
    align-items: center;
    gap: 0.55rem;
    flex: 1;
    min-width: 0;
    white-space: nowrap;
  }

  dt {
    color: var(--dim);
    min-width: 3.4rem;
  }

  div :global(svg) {
    flex: 1;
    min-width: 1.8rem;
    max-width: 7rem;
  }

  .asked {
    color: var(--high);
    font-size: 0.9375rem;
  }
</style>
