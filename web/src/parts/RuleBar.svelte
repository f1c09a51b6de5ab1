<script lang="ts">
  import type { RuleLine } from '../api/client';

  /** A rule's number as a bar along its scale, whose tick is the limit; `high` is how many pixels. */
  let { rule, high = 14 }: { rule: RuleLine; high?: number } = $props();

  /** Where along its scale the limit stands. */
  const TICK = 0.62;
  const share = $derived(Math.min(1, (Math.abs(rule.measured) / rule.limit) * TICK));
  const thick = $derived(high - 8);
</script>

<svg
  viewBox="0 0 100 {high}"
  height={high}
  preserveAspectRatio="none"
  class:missed={!rule.passed}
  aria-hidden="true"
>
  <rect class="scale" y="4" width="100" height={thick} />
  <rect class="value" y="4" width={100 * share} height={thick} />
  <rect class="tick" x={100 * TICK - 0.8} width="1.6" height={high} />
</svg>

<style>
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
</style>
