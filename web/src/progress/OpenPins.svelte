<script lang="ts">
  import type { Schemas } from '../api/client';
  import { dayOf, longDay } from '../parts/dates';

  /** Every spot that was pinned and not gone back to yet. */
  interface Props {
    pins: Schemas['PinnedOut'][];
    ondone: (pin: Schemas['PinnedOut']) => void;
  }

  let { pins, ondone }: Props = $props();
</script>

{#if pins.length}
  <section aria-label="Still to go back to">
    <h2>Still to go back to</h2>
    <ul>
      {#each pins as pin (pin.id)}
        <li>
          <a href="#/{pin.kind}/{pin.kept_id}?at={pin.at_s}">
            <span class="dim">{longDay(dayOf(pin.started_at.slice(0, 10)))}</span>
            {pin.said_by && `${pin.said_by}: `}{pin.words || 'a spot'}
            <span class="dim">at {pin.at_s.toFixed(1)} s</span>
          </a>
          <button class="act dim" onclick={() => ondone(pin)}>been there</button>
        </li>
      {/each}
    </ul>
  </section>
{/if}

<style>
  h2 {
    font-size: 1.4rem;
    padding-top: 1.2rem;
  }

  li {
    display: flex;
    align-items: center;
    gap: 1rem;
    border-bottom: 1px solid var(--line);
  }

  a {
    flex: 1;
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0 0.6rem;
    min-height: 2.6rem;
    overflow-wrap: anywhere;
  }
</style>
