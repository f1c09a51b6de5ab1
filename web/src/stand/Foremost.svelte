<script lang="ts">
  import type { RuleLine } from '../api/client';
  import { shareOf, TICK } from '../parts/rules';

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
          <svg viewBox="0 0 100 20" preserveAspectRatio="none" aria-hidden="true">
            <rect class="scale" y="3" width="100" height="14" />
            <rect class="value" y="3" width={100 * shareOf(rule)} height="14" />
            <rect class="tick" x={100 * TICK - 0.6} width="1.2" height="20" />
          </svg>
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

  svg {
    display: block;
    width: 100%;
    height: 20px;
  }

  .scale {
    fill: var(--line);
  }

  .value {
    fill: var(--asked);
  }

  .missed .value {
    fill: var(--high);
  }

  .tick {
    fill: var(--ink);
  }

  .limit {
    font-size: 1rem;
  }

  .missed .limit {
    color: var(--high);
  }
</style>
