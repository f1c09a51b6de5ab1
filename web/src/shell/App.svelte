<script lang="ts">
  import { Toast } from '@skeletonlabs/skeleton-svelte';
  import { onMount } from 'svelte';
  import Router, { push, router } from 'svelte-spa-router';
  import { problemOf, type Problem } from '../api/client';
  import { known } from '../api/fields.svelte';
  import { sectionFor } from '../guide/places';
  import { house } from '../home/house.svelte';
  import Sign from '../home/Sign.svelte';
  import Dialog from '../parts/Dialog.svelte';
  import KeyList from '../parts/KeyList.svelte';
  import Notice from '../parts/Notice.svelte';
  import { toaster } from '../takes/deletion';
  import { keyboard } from '../parts/keys.svelte';
  import { swipes } from '../parts/swipe';
  import { theme } from '../parts/theme.svelte';
  import { who } from '../players/who.svelte';
  import Legend from '../ribbon/Legend.svelte';
  import Drone from '../sounding/Drone.svelte';
  import { drone } from '../sounding/drone.svelte';
  import Metronome from '../sounding/Metronome.svelte';
  import { metronome } from '../sounding/metronome.svelte';
  import { soundingActions } from '../sounding/actions';
  import Players from '../players/Players.svelte';
  import More from './More.svelte';
  import Nav from './Nav.svelte';
  import { PLACES, routes } from './routes';

  let problem = $state.raw<Problem | null>(null);
  let help = $state(false);
  let others = $state(false);
  let legend = $state(false);

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

  onMount(() => {
    void load();
    house.begin();
  });

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
    // What they are set to is known with the fields.
    ...(who.loaded ? soundingActions(who.player) : []),
    { keys: ['p'], shown: 'P', label: 'who plays', run: () => void push('/players') },
    { keys: ['d'], shown: 'D', label: 'light or dark', run: () => theme.toggle() },
    { keys: ['?'], shown: '?', label: 'all keys', run: () => (help = true) },
    { keys: ['.'], shown: '.', label: 'reading the ribbon', run: () => (legend = true) },
  ]);
  $effect(() => {
    keyboard.everywhere = everywhere;
  });
</script>

<svelte:window onkeydown={(event) => keyboard.press(event)} />

<div class="shell">
  <Nav {here} onmore={() => (others = true)} onkeys={() => (help = true)} />
  <main {@attach swipes((way) => keyboard.swiped(way))}>
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
    <div class="away"><Sign away /></div>
    {#if metronome.running || metronome.trouble || drone.running}
      <div class="sounding">
        {#if metronome.trouble}<p role="alert">{metronome.trouble}</p>{/if}
        {#if metronome.running}<Metronome />{/if}
        {#if drone.running}<Drone />{/if}
      </div>
    {/if}
  </main>
</div>

<More bind:open={others} onlegend={() => (legend = true)} />

<Dialog bind:open={help} title="All keys">
  <KeyList actions={[...keyboard.view, ...keyboard.everywhere]} />
  <p>
    <button class="act underlined" onclick={() => ((help = false), (legend = true))}>
      Reading the ribbon
    </button>
    <a
      class="act underlined"
      href="#/guide/{sectionFor(router.location)}"
      onclick={() => (help = false)}>The guide: what this page is, and how to use it</a
    >
  </p>
</Dialog>

<Dialog bind:open={legend} title="Reading the ribbon"><Legend /></Dialog>

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

  main {
    display: grid;
    grid-template-rows: minmax(0, 1fr) auto auto;
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

  /* Where there are no places beside it. */
  .away {
    display: none;
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

    .sounding {
      display: none;
    }
  }

  @media (max-width: 760px) {
    .shell {
      grid-template-columns: 1fr;
      grid-template-rows: 1fr auto;
    }

    .away {
      display: block;
    }
  }
</style>
