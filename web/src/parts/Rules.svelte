<script lang="ts">
  import type { RuleLine } from '../api/client';
  import { shareOf, TICK } from './rules';

  /** Every rule with its number, its unit and a small scale whose tick is the limit. */
  let { rules }: { rules: RuleLine[] } = $props();
</script>

<dl>
  {#each rules as rule (rule.rule)}
    <div class:missed={!rule.passed}>
      <dt>{rule.rule}</dt>
      <dd>
        {#if rule.told && rule.limit}
          <svg viewBox="0 0 100 14" preserveAspectRatio="none" aria-hidden="true">
            <rect class="scale" y="4" width="100" height="6" />
            <rect class="value" y="4" width={100 * shareOf(rule)} height="6" />
            <rect class="tick" x={100 * TICK - 1} width="2" height="14" />
          </svg>
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

  svg {
    flex: 1;
    min-width: 1.8rem;
    max-width: 7rem;
    height: 14px;
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

  .asked {
    color: var(--high);
    font-size: 0.9375rem;
  }
</style>
