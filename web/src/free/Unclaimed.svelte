<script lang="ts">
  import type { Player, Schemas } from '../api/client';
  import { who } from '../players/who.svelte';

  type Sitting = Schemas['UnclaimedOut'];

  /** Playing that is nobody's yet, and who it may have been. */
  interface Props {
    sittings: Sitting[];
    onclaim: (sitting: Sitting, player: Player) => Promise<void>;
    onthrow: (sitting: Sitting) => Promise<void>;
  }

  let { sittings, onclaim, onthrow }: Props = $props();

  const began = new Intl.DateTimeFormat('en-GB', {
    weekday: 'long',
    hour: '2-digit',
    minute: '2-digit',
  });
  const long = (s: number) => (s < 90 ? `${Math.round(s)} s` : `${Math.round(s / 60)} min`);
</script>

<section aria-label="Whose was it?">
  <h2>Whose was it?</h2>
  <p class="dim">
    It is kept as that player's, on their horn. Left as it is, it goes after a week.
  </p>
  <ul>
    {#each sittings as sitting (sitting.id)}
      <li>
        <span>{began.format(new Date(sitting.started_at))}: {long(sitting.duration_s)}</span>
        {#each who.players as player (player.id)}
          <button class="act-main small" onclick={() => void onclaim(sitting, player)}
            >{player.name}</button
          >
        {/each}
        <a class="act" href="#/players">somebody new</a>
        <button class="act" onclick={() => void onthrow(sitting)}>throw it away</button>
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
