<script lang="ts">
  import { Toast } from '@skeletonlabs/skeleton-svelte';
  import { onMount } from 'svelte';
  import Router, { push, router } from 'svelte-spa-router';
  import { problemOf, type Problem } from '../api/client';
  import { known } from '../api/fields.svelte';
  import { sectionFor } from '../guide/places';
  import Dialog from '../parts/Dialog.svelte';
  import Key from '../parts/Key.svelte';
  import KeyList from '../parts/KeyList.svelte';
  import Notice from '../parts/Notice.svelte';
  import { toaster } from '../takes/deletion';
  import { keyboard } from '../parts/keys.svelte';
  import { theme } from '../parts/theme.svelte';
  import { who } from '../players/who.svelte';
  import Drone from '../sounding/Drone.svelte';
  import { drone } from '../sounding/drone.svelte';
  import Metronome from '../sounding/Metronome.svelte';
  import { metronome } from '../sounding/metronome.svelte';
  import Players from '../players/Players.svelte';
  import { PLACES, routes } from './routes';

  let problem = $state.raw<Problem | null>(null);
  let help = $state(false);
  let others = $state(false);

  async function load() {
    try {
      // Views are shown once there are players, and need the fields then.
      await known.load();
      await who.load();
      problem = null;
    } catch (error) {
      problem = problemOf(error);
    }
  }

  onMount(() => void load());

  const TODAYS = ['/about', '/approaches', '/programmes', '/'];
  const here = $derived(
    TODAYS.includes(router.location)
      ? '/today'
      : PLACES.find(({ path }) => router.location.startsWith(path))?.path,
  );

  const everywhere = $derived([
    ...PLACES.map(({ path, name }, i) => ({
      keys: [String(i + 1)],
      shown: String(i + 1),
      label: name,
      run: () => void push(path),
    })),
    {
      keys: ['8'],
      shown: '8',
      label: 'metronome on or off',
      run: () => metronome.toggle(),
      disabled: metronome.barred,
    },
    {
      keys: ['9'],
      shown: '9',
      label: 'drone on or off',
      run: () => drone.toggle(who.player),
      disabled: drone.barred,
    },
    { keys: ['0'], shown: '0', label: 'tap the tempo', run: () => metronome.tap() },
    {
      keys: ['('],
      shown: '(',
      label: 'metronome slower',
      run: () => metronome.faster(-2),
    },
    {
      keys: [')'],
      shown: ')',
      label: 'metronome faster',
      run: () => metronome.faster(2),
    },
    { keys: ['p'], shown: 'P', label: 'who plays', run: () => void push('/players') },
    { keys: ['d'], shown: 'D', label: 'light or dark', run: () => theme.toggle() },
    { keys: ['?'], shown: '?', label: 'all keys', run: () => (help = true) },
  ]);
  $effect(() => {
    keyboard.everywhere = everywhere;
  });
</script>

<svelte:window onkeydown={(event) => keyboard.press(event)} />

<div class="shell">
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
    <button class="others" aria-expanded={others} onclick={() => (others = true)}>
      <svg viewBox="0 0 24 24" aria-hidden="true"><path d="M4 12 h3 M10.5 12 h3 M17 12 h3" /></svg>
      More
    </button>
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
    <button class="more" onclick={() => (help = true)}>Keys<Key shown="?" /></button>
  </nav>
  <main>
    <div class="place">
      {#if problem}
        <div class="gone">
          <Notice title={problem.title} detail={problem.detail}>
            <button class="act-main" onclick={load}>Try again</button>
          </Notice>
        </div>
      {:else if who.player || (who.loaded && /^\/(free|guide)/.test(router.location))}
        {#key who.player?.id}<Router {routes} />{/key}
      {:else if who.loaded}
        <Players />
      {/if}
    </div>
    {#if metronome.running || metronome.trouble || drone.running}
      <div class="sounding">
        {#if metronome.trouble}<p role="alert">{metronome.trouble}</p>{/if}
        {#if metronome.running}<Metronome />{/if}
        {#if drone.running}<Drone />{/if}
      </div>
    {/if}
  </main>
</div>

<Dialog bind:open={others} title="More">
  <ul class="list">
    {#each PLACES.filter(({ picture }) => !picture) as place (place.path)}
      <li><a href="#{place.path}" onclick={() => (others = false)}>{place.name}</a></li>
    {/each}
    <li>
      <a href="#/players" onclick={() => (others = false)}
        >Who plays? {who.player ? `Now ${who.player.name}` : ''}</a
      >
    </li>
    <li>
      <button
        onclick={() => {
          others = false;
          metronome.toggle();
        }}
        disabled={metronome.barred}>Metronome</button
      >
    </li>
    <li>
      <button
        onclick={() => {
          others = false;
          drone.toggle(who.player);
        }}
        disabled={drone.barred}>Drone</button
      >
    </li>
    <li><a href="#/guide" onclick={() => (others = false)}>Guide</a></li>
    <li>
      <button onclick={() => theme.toggle()}>{theme.mode === 'dark' ? 'Light' : 'Dark'}</button>
    </li>
  </ul>
</Dialog>

<Dialog bind:open={help} title="All keys">
  <KeyList actions={[...keyboard.view, ...keyboard.everywhere]} />
  <p>
    <a
      class="act underlined"
      href="#/guide/{sectionFor(router.location)}"
      onclick={() => (help = false)}>The guide: what this page is, and how to use it</a
    >
  </p>
</Dialog>

<Toast.Group {toaster}>
  {#snippet children(toast)}
    <Toast {toast} class="toast">
      <Toast.Message>
        <Toast.Title>{toast.title}</Toast.Title>
        {#if toast.description}<Toast.Description>{toast.description}</Toast.Description>{/if}
      </Toast.Message>
      {#if toast.action}<Toast.ActionTrigger class="act">{toast.action.label}</Toast.ActionTrigger
        >{/if}
    </Toast>
  {/snippet}
</Toast.Group>

<style>
  .shell {
    display: grid;
    grid-template-columns: 96px 1fr;
    height: 100%;
  }

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
  .others {
    display: none !important;
  }

  .underlined {
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }

  .list a,
  .list button {
    display: flex;
    align-items: center;
    min-width: 16rem;
    min-height: 3rem;
    font-size: 1.25rem;
    cursor: pointer;
  }

  .player {
    margin-top: auto;
    overflow-wrap: anywhere;
    text-align: center;
  }

  main {
    display: grid;
    grid-template-rows: minmax(0, 1fr) auto;
    min-width: 0;
    min-height: 0;
  }

  .place {
    min-width: 0;
    overflow-y: auto;
  }

  .sounding {
    display: grid;
    gap: 0.6rem;
    border-top: 2px solid var(--sound);
    background: var(--sheet);
    padding: 0.6rem 1.9rem;
    max-height: 50vh;
    overflow-y: auto;
  }

  .gone {
    height: 100%;
    display: grid;
    align-content: center;
    padding-inline: 2.4rem;
  }

  :global(.toast) {
    display: flex;
    align-items: center;
    gap: 1.2rem;
    background: var(--ink);
    color: var(--paper);
    border-radius: 6px;
    padding: 0.7rem 1.2rem;
  }

  :global(.toast .act) {
    font-weight: 700;
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }

  :global(.toast .act:hover) {
    color: inherit;
  }

  @media print {
    .shell {
      display: block;
      height: auto;
    }

    main,
    .place {
      display: block;
      overflow: visible;
    }

    .sounding,
    nav {
      display: none;
    }
  }

  @media (max-width: 760px) {
    .shell {
      grid-template-columns: 1fr;
      grid-template-rows: 1fr auto;
    }

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
    .wordmark {
      display: none;
    }

    nav svg,
    nav .others {
      display: flex !important;
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
