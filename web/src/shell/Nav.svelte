<script lang="ts">
  import { router } from 'svelte-spa-router';
  import Sign from '../home/Sign.svelte';
  import Key from '../parts/Key.svelte';
  import { theme } from '../parts/theme.svelte';
  import { who } from '../players/who.svelte';
  import { PLACES } from './routes';

  /** The places of the app beside them, or on a phone under them: five with a picture, the rest
   * under More. */
  interface Props {
    here: string | undefined;
    onmore: () => void;
    onkeys: () => void;
  }

  let { here, onmore, onkeys }: Props = $props();
</script>

<nav aria-label="Places">
  <span class="wordmark" aria-hidden="true">Ore<br />xis</span>
  {#if who.player}
    {#each PLACES as place, i (place.path)}
      <a
        href="#{place.path}"
        class:more={!place.picture}
        aria-current={here === place.path ? 'page' : undefined}
      >
        {#if place.picture}
          <svg viewBox="0 0 24 24" aria-hidden="true"><path d={place.picture} /></svg>
        {/if}
        {place.name}<Key shown={String(i + 1)} />
      </a>
    {/each}
  {/if}
  <button class="others" onclick={onmore}>
    <svg viewBox="0 0 24 24" aria-hidden="true"><path d="M4 12 h3 M10.5 12 h3 M17 12 h3" /></svg>
    More
  </button>
  <div class="sign"><Sign /></div>
  <a
    href="#/players"
    class="player more"
    aria-current={router.location === '/players' ? 'page' : undefined}
  >
    {who.player?.name ?? 'Who plays?'}<Key shown="P" />
  </a>
  <button class="more" onclick={() => theme.toggle()}>
    {theme.mode === 'dark' ? 'Light' : 'Dark'}<Key shown="D" />
  </button>
  <button class="more" onclick={onkeys}>Keys<Key shown="?" /></button>
</nav>

<style>
  nav {
    display: flex;
    flex-direction: column;
    border-right: 1px solid var(--line);
    padding-block: 1.1rem 0.8rem;
    font-size: 0.875rem;
    color: var(--dim);
  }

  .wordmark {
    font-family: var(--font-note);
    font-weight: 700;
    font-size: 1.4rem;
    line-height: 1.15;
    color: var(--ink);
    text-align: center;
    padding-bottom: 1.2rem;
  }

  nav a,
  nav button {
    display: flex;
    align-items: center;
    justify-content: center;
    gap: 0.35rem;
    min-height: 2.6rem;
    border-left: 3px solid transparent;
    border-right: 3px solid transparent;
    cursor: pointer;
  }

  nav :global(kbd) {
    font-size: 0.6875rem;
    padding: 0.15rem 0.3rem;
  }

  nav a[aria-current] {
    color: var(--ink);
    font-weight: 700;
    border-left-color: var(--sound);
  }

  nav svg,
  nav .others {
    display: none;
  }

  .sign {
    margin-top: auto;
  }

  .player {
    overflow-wrap: anywhere;
    text-align: center;
  }

  @media print {
    nav {
      display: none;
    }
  }

  @media (max-width: 760px) {
    nav {
      grid-row: 2;
      flex-direction: row;
      justify-content: space-around;
      border-right: 0;
      border-top: 1px solid var(--line);
      padding-block: 0;
    }

    nav :global(kbd),
    nav .more,
    nav .sign,
    .wordmark {
      display: none;
    }

    nav svg,
    nav .others {
      display: flex;
    }

    nav svg {
      width: 1.6rem;
      height: 1.6rem;
      fill: none;
      stroke: currentColor;
      stroke-width: 1.8;
      stroke-linecap: round;
      stroke-linejoin: round;
    }

    nav a,
    nav button {
      flex: 1;
      flex-direction: column;
      gap: 0.1rem;
      border-left: 0;
      border-right: 0;
      border-top: 3px solid transparent;
      min-height: 3.6rem;
    }

    nav a[aria-current] {
      border-top-color: var(--sound);
    }
  }
</style>
