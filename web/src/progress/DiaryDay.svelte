<script lang="ts">
  import type { Schemas } from '../api/client';
  import { clock } from '../takes/days';
  import SessionHead from '../takes/SessionHead.svelte';

  /** A day of the diary: what moved, what the player said to themselves, what they pinned. */
  let { of }: { of: Schemas['DiaryPageOut'] } = $props();
</script>

<section aria-label={of.title}>
  <h2>{of.title}</h2>
  <p class="sum">{of.words}</p>
  {#if of.day.event}<p class="event">{of.day.event}</p>{/if}
  {#if of.day.hurt}<p class="event">Something hurt.</p>{/if}
  {#each of.sessions as session (session.id)}<SessionHead {session} />{/each}
  {#if of.pins.length}
    <h3>Pinned</h3>
    <ul>
      {#each of.pins as pin, i (i)}
        <li>
          <a href="#/{pin.kind}/{pin.kept_id}">
            <span class="dim">{clock(pin.started_at)}, at {pin.at_s.toFixed(1)} s</span>
            {pin.words || 'no words'}
          </a>
        </li>
      {/each}
    </ul>
  {/if}
</section>

<style>
  h2 {
    font-size: 1.5rem;
  }

  h3 {
    font-size: 1.15rem;
    padding-top: 0.8rem;
  }

  .sum {
    font-size: 1.15rem;
    padding-block: 0.2rem 0.4rem;
  }

  .event {
    border-left: 3px solid var(--low);
    padding-left: 0.8rem;
    margin-block: 0.4rem;
  }

  li a {
    display: block;
    min-height: 2.6rem;
    padding-block: 0.3rem;
  }
</style>
