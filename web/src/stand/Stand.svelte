<script lang="ts">
  import { onDestroy, untrack } from 'svelte';
  import { MediaQuery } from 'svelte/reactivity';
  import { push } from 'svelte-spa-router';
  import { problemOf, SERVER_GONE } from '../api/client';
  import { known } from '../api/fields.svelte';
  import Ended from './Ended.svelte';
  import Key from '../parts/Key.svelte';
  import Lead from './Lead.svelte';
  import Desk from './Desk.svelte';
  import EarFoot from './EarFoot.svelte';
  import Elsewhere from './Elsewhere.svelte';
  import StandSettings from './StandSettings.svelte';
  import { house } from '../home/house.svelte';
  import Remote from '../home/Remote.svelte';
  import { TROUBLES } from '../microphone/trouble';
  import Notice from '../parts/Notice.svelte';
  import RoundTripView from './RoundTrip.svelte';
  import Sessions from './Sessions.svelte';
  import Whole from './Whole.svelte';
  import View from '../parts/View.svelte';
  import { OpenExercise } from '../book/page.svelte';
  import { offer } from '../parts/keys.svelte';
  import { RoundTrip } from './roundtrip.svelte';
  import { Spoken } from './spoken.svelte';
  import { Stand } from './stand.svelte';
  import { clearHurts, hurtsOf, reportHurt } from './hurts';
  import { singleActions } from './single';
  import { wholeActions } from './whole';
  import { takeHanded } from './handed';
  import type { Offered } from './sessions';
  import { who } from '../players/who.svelte';
  import { overruleWords } from '../takes/overrule';
  import { setNextStandard, standards } from '../players/standard';

  /** What a phone has at hand while another device listens. */
  const REMOTE = [' ', 'r', 'ArrowRight', 'o'];

  /** How a session ended that something hurt in. */
  const HURT = 'hurt';

  const player = $derived(who.current);

  const stand = untrack(() => new Stand(player));
  const care = known.fields.care;
  const spoken = new Spoken();
  let hurts = $state(false);
  let hurting = $state(false);
  let lostForLong = $state(false);
  let choosing = $state(false);
  let quiet = $state(false);
  let mirror = $state(false);
  /** The microphone is being looked at. */
  let checking = $state(false);
  /** Read from across the room: fewer things, larger. A phone is near. */
  let chosenFar = $state(localStorage.getItem('orexis-far') !== 'no');
  const roomy = new MediaQuery('min-width: 761px');
  const far = $derived(chosenFar || !roomy.current);
  let trip = $state.raw<RoundTrip | null>(null);
  let offered = $state.raw<Offered[]>([]);

  const handed = takeHanded();
  if (handed) void stand.playWhole(handed);

  onDestroy(() => {
    void stand.leave();
    void spoken.stop();
  });

  $effect(() => {
    void hurtsOf(player.id).then((found) => (hurting = found));
  });

  const following = $derived(stand.following);
  let elsewhere = $state<Elsewhere>();
  const farEar = $derived(
    house.ears.find(
      ({ player_id, kind, device, session }) =>
        player_id === player.id &&
        kind !== 'free' &&
        device !== house.device &&
        session !== stand.dismissed,
    ),
  );
  /** A session that was left, and is not played on another device meanwhile. */
  const left = $derived(
    stand.listening || house.ears.some(({ session }) => session === stand.open?.id)
      ? null
      : stand.open,
  );
  // What another device listens to is shown as soon as it does.
  $effect(() => {
    if (farEar && !stand.listening && !stand.starting && !trip && !hurts && !choosing)
      untrack(() => stand.follow(farEar));
  });

  // Wherever it was pressed: the caution stands on every device that shows the session.
  $effect(() => {
    if (!stand.listening || going.now?.ended !== HURT) return;
    untrack(() => {
      hurts = hurting = true;
      void stand.stop();
    });
  });

  const going = $derived(stand.going);
  const whole = $derived(stand.listening && stand.whole !== null);

  // A short break mends itself; only a longer one is worth taking the view away for.
  $effect(() => {
    lostForLong = false;
    if (stand.line !== 'lost' || !stand.listening) return;
    const timer = setTimeout(() => (lostForLong = true), 1500);
    return () => clearTimeout(timer);
  });

  const standIn = $derived(stand.source === 'stand-in');
  const trouble = $derived(stand.trouble && TROUBLES[stand.trouble]);
  const lead = $derived(
    !stand.listening || stand.ended
      ? ''
      : stand.playing
        ? 'Listening. Silence ends it.'
        : whole
          ? 'No hand needed.'
          : standIn
            ? 'The stand-in waits.'
            : 'Play to begin. Silence ends it.',
  );

  function start() {
    hurts = false;
    if (standIn) void stand.playStandIn();
    else void stand.listen('microphone');
  }

  function useStandIn() {
    hurts = false;
    void stand.playStandIn();
  }

  function useMicrophone() {
    hurts = false;
    // A session that lost its microphone goes on where it was.
    if (stand.whole && stand.open) void stand.goOnWith(stand.open);
    else void stand.listen('microphone');
  }

  function stopForPain() {
    hurts = hurting = true;
    // What listens keeps it with its session; else, as after its end, it is kept by itself.
    if (stand.listening && stand.line === 'live' && !stand.ended) stand.press('hurts');
    else void reportHurt(player.id);
    void stand.stop();
  }

  async function clear() {
    await clearHurts(player.id);
    hurting = false;
    await stand.load();
  }

  function toggleFar() {
    chosenFar = !chosenFar;
    localStorage.setItem('orexis-far', chosenFar ? 'yes' : 'no');
  }

  function play(one: Offered) {
    choosing = hurts = false;
    void stand.playWhole(one);
  }

  async function nextStandard() {
    if (stand.playing) return;
    try {
      await setNextStandard(player);
      stand.tune();
      await stand.load();
    } catch (error) {
      stand.problem = problemOf(error);
    }
  }

  function openPage() {
    if (!stand.plan) return;
    const { family, values } = stand.plan;
    OpenExercise.set(player.id, family, values);
    void push(`/book/${family}`);
  }

  offer(() =>
    choosing
      ? [
          ...offered.map((one, i) => ({
            keys: [String.fromCharCode(97 + i)],
            shown: String.fromCharCode(65 + i),
            label: one.title,
            run: () => play(one),
            disabled: !one.exercises.length,
            quiet: true,
          })),
          {
            keys: ['q'],
            shown: 'Q',
            label: 'quiet hours',
            run: () => (quiet = !quiet),
            quiet: true,
          },
          { keys: ['Escape'], shown: 'Esc', label: 'back', run: () => (choosing = false) },
        ]
      : [
          ...(following ? (elsewhere?.actions() ?? []) : []),
          ...(whole
            ? wholeActions(stand, going, spoken)
            : following
              ? []
              : singleActions(stand, {
                  start,
                  choose: () => (choosing = true),
                  openPage,
                  useMicrophone,
                  useStandIn,
                  measure,
                })),
          ...(stand.listening && !standIn && !following
            ? [
                {
                  keys: ['m'],
                  shown: 'M',
                  label: 'how well the microphone hears',
                  run: () => (checking = true),
                  quiet: true,
                },
              ]
            : []),
          {
            keys: ['o'],
            shown: 'O',
            label: overruleWords(stand.take),
            run: () => void stand.overrule(),
            disabled: !stand.take,
          },
          {
            keys: ['t'],
            shown: 'T',
            label: stand.drone ? 'drone off' : 'drone',
            run: () => stand.toggleDrone(),
            disabled: !stand.plan || following !== null,
            quiet: whole,
          },
          {
            keys: ['g'],
            shown: 'G',
            label: `standard: ${standards().join(', ')}`,
            run: () => void nextStandard(),
            disabled: following !== null,
            quiet: true,
          },
          {
            keys: ['f'],
            shown: 'F',
            label: far ? 'near: everything' : 'far: fewer things, larger',
            run: toggleFar,
            disabled: !roomy.current,
            quiet: true,
          },
          {
            keys: ['i'],
            shown: 'I',
            label: mirror ? 'mirror away' : 'mirror',
            run: () => (mirror = !mirror),
            quiet: true,
          },
          { keys: ['h'], shown: 'H', label: 'something hurts', run: stopForPain, quiet: true },
        ],
  );

  async function measure() {
    await stand.stop();
    trip = new RoundTrip(stand.inputId);
  }
</script>

{#snippet set()}
  <StandSettings
    {stand}
    {whole}
    roomy={roomy.current}
    {far}
    onfar={toggleFar}
    onstandard={nextStandard}
  />
{/snippet}

<View framed {lead}>
  <header>
    <h1>{(whole && stand.whole?.title) || (stand.plan?.sheet.title ?? '')}</h1>
    <span class="dim">{player.name}, {player.instrument_name}</span>
    {#if stand.repeated}<strong role="status">{stand.repeated}</strong>{/if}
    <span class="settings">
      {#if roomy.current}{@render set()}{/if}
      <button class="act hurts" onclick={stopForPain}>Something hurts<Key shown="H" /></button>
    </span>
  </header>

  {#if hurts}
    <div class="whole">
      <Notice title={care.title} detail={care.detail}>
        <span>Play nothing until you say that nothing hurts any more.</span>
        <button class="act" onclick={() => (hurts = false)}>Back to the Stand</button>
      </Notice>
    </div>
  {:else if whole && going.told?.summary && going.now?.ended}
    <Ended
      sessionId={stand.sessionId}
      headline={going.stretch?.headline ?? ''}
      summary={going.told.summary}
      {spoken}
      onclose={() => stand.leaveWhole()}
    />
  {:else if choosing}
    <Sessions
      playerId={player.id}
      {quiet}
      bind:found={offered}
      onplay={play}
      onquiet={() => (quiet = !quiet)}
    />
  {:else if trip}
    <div class="whole"><RoundTripView {trip} onclose={() => (trip = null)} /></div>
  {:else if trouble}
    <div class="whole">
      <Notice title={trouble.title} detail={trouble.detail}>
        <button class="act-main" onclick={useMicrophone}>Try again</button>
        <button class="act" onclick={useStandIn}>
          <Key shown="S" />Use the stand-in player instead
        </button>
      </Notice>
    </div>
  {:else if lostForLong || (!stand.listening && stand.problem)}
    {@const problem = stand.problem ?? SERVER_GONE}
    <div class="whole">
      <Notice title={problem.title} detail={problem.detail}>
        {#if stand.listening}
          <span>You can go on playing: what you play is held here until it answers.</span>
        {:else}
          <button class="act-main" onclick={() => stand.load()}>Try again</button>
        {/if}
        <button class="act" onclick={useStandIn}><Key shown="S" />Use the stand-in player</button>
      </Notice>
    </div>
  {:else if stand.plan}
    {@const plan = stand.plan}
    {#if hurting || left}
      <p class="left" role="status">
        {#if hurting}
          Something hurt, so playing waits.
          <button class="act" onclick={clear}>Nothing hurts any more</button>
        {/if}
        {#if left}
          You left “{left.title}” before its end.
          <button class="act" onclick={() => stand.goOnWith(left)}>Go on with it</button>
          <button class="act" onclick={() => stand.forget()}>Leave it</button>
        {/if}
      </p>
    {/if}
    {#if whole && going.now}
      <Whole blocks={going.now.blocks} />
      <Lead {going} {far} />
    {/if}
    <Desk {stand} {plan} {whole} {far} roomy={roomy.current} {mirror} onstart={start}>
      {#snippet settings()}{@render set()}{/snippet}
    </Desk>
    {#if following && !roomy.current}
      <Remote keys={whole ? REMOTE : ['o']} />
    {/if}
  {/if}

  {#snippet foot()}
    {#if following}
      <Elsewhere bind:this={elsewhere} {stand} />
    {:else if stand.listening}
      <EarFoot {stand} bind:checking onmicrophone={useMicrophone} />
    {:else if who.players.length}
      <span>not listening</span>
    {/if}
  {/snippet}
</View>

<style>
  header {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.2rem 0.9rem;
    padding-block: 0.9rem 0.4rem;
  }

  h1 {
    font-family: var(--font-text);
    font-size: 1.125rem;
    letter-spacing: 0;
  }

  .settings {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.2rem 1.5rem;
    margin-left: auto;
  }

  .hurts {
    color: var(--high);
    font-weight: 700;
  }

  .left {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.2rem 1.2rem;
    padding-bottom: 0.4rem;
  }
</style>
