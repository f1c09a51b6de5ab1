<script lang="ts">
  import type { Player, Schemas } from '../api/client';
  import { longDay } from '../parts/dates';
  import { who } from '../players/who.svelte';
  import { clock } from '../takes/days';

  type Sitting = Schemas['UnclaimedOut'];

  /** Playing that is nobody's yet, and who it may have been. */
  interface Props {
    sittings: Sitting[];
    onclaim: (sitting: Sitting, player: Player) => Promise<void>;
    onthrow: (sitting: Sitting) => Promise<void>;
  }

  let { sittings, onclaim, onthrow }: Props = $props();
</script>

<section aria-label="Whose was it?">
  <h2>Whose was it?</h2>
  <p class="dim">
    Choose who played: it is measured on that player's horn and kept. If nobody does, Orexis deletes
    it after a week.
  </p>
  <ul>
    {#each sittings as sitting (sitting.id)}
      <li>
        <span
          >{longDay(new Date(sitting.started_at))}, {clock(sitting.started_at)}: {sitting.duration_words}</span
        >
        {#each who.players as player (player.id)}
          <button class="act-main small" onclick={() => void onclaim(sitting, player)}
            >{player.name}</button
          >
        {/each}
        <a class="act" href="#/players">somebody new</a>
        <button class="act" onclick={() => void onthrow(sitting)}>delete it</button>
      </li>
    {/each}
  </ul>
</section>

<style>
  section {
    padding-block: 1.2rem;
  }

  h2 {
    font-size: 1.6rem;
  }

  li {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.4rem 1.2rem;
    padding-block: 0.6rem;
    border-top: 1px solid var(--line);
    font-size: 1.125rem;
  }

  .small {
    font-size: 1.0625rem;
  }
</style>
