<script lang="ts">
  import type { RuleLine } from '../api/client';
  import RuleBar from '../parts/RuleBar.svelte';

  /** What counts most in an attempt, to be read from across the room: its number large, and how near
   * it came to its limit. */
  let { rules }: { rules: RuleLine[] } = $props();

  const shown = $derived(rules.filter(({ foremost }) => foremost));
</script>

<dl>
  {#each shown as rule (rule.rule)}
    <div class:missed={!rule.passed}>
      <dt>
        {rule.rule}
        {#if rule.limit}<span class="limit">{rule.limit_words}</span>{/if}
      </dt>
      <dd><strong>{rule.words}</strong> {rule.unit}</dd>
      {#if rule.limit}
        <dd class="bar">
          <RuleBar {rule} high={20} />
        </dd>
      {/if}
    </div>
  {/each}
</dl>

<style>
  dl {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(16rem, 1fr));
    gap: 0.7rem 2rem;
  }

  dt {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    white-space: nowrap;
    color: var(--dim);
    font-size: 1.125rem;
  }

  dd {
    font-size: 1.25rem;
    line-height: 1.1;
  }

  strong {
    font-size: 2.1rem;
    font-variant-numeric: tabular-nums;
  }

  .bar :global(svg) {
    display: block;
    width: 100%;
  }

  .limit {
    font-size: 1rem;
  }

  .missed .limit {
    color: var(--high);
  }
</style>
