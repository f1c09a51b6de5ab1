<script lang="ts">
  import { onDestroy, untrack } from 'svelte';
  import { MediaQuery } from 'svelte/reactivity';
  import { push } from 'svelte-spa-router';
  import { problemOf, SERVER_GONE } from '../api/client';
  import { known } from '../api/fields.svelte';
  import Ended from './Ended.svelte';
  import Foremost from './Foremost.svelte';
  import Key from '../parts/Key.svelte';
  import Lead from './Lead.svelte';
  import Elsewhere from './Elsewhere.svelte';
  import { house } from '../home/house.svelte';
  import Remote from '../home/Remote.svelte';
  import Check from '../microphone/Check.svelte';
  import Meter from '../microphone/Meter.svelte';
  import { TROUBLES } from '../microphone/trouble';
  import Mirror from './Mirror.svelte';
  import Music from '../parts/Music.svelte';
  import Now from './Now.svelte';
  import Notice from '../parts/Notice.svelte';
  import Pacer from './Pacer.svelte';
  import RoundTripView from './RoundTrip.svelte';
  import VerdictPanel from './VerdictPanel.svelte';
  import Sessions from './Sessions.svelte';
  import SkillPanel from './SkillPanel.svelte';
  import Whole from './Whole.svelte';
  import View from '../parts/View.svelte';
  import { OpenExercise } from '../book/page.svelte';
  import SlotView from '../ribbon/SlotView.svelte';
  import { markWords } from '../ribbon/frames';
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
  const windowS = $derived(windowOf(stand.plan?.seconds ?? 4, stand.plan?.sheet.notes.length ?? 1));
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

  /** Seconds across the ribbon: two attempts at one note, or one at more. */
  function windowOf(seconds: number, notes: number): number {
    return notes > 1 ? Math.min(60, Math.max(10, 1.2 * seconds + 3)) : Math.max(8, 2 * seconds + 4);
  }

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

  /** What is marked on the newest attempt. */
  const heard = $derived(markWords(stand.stretches.at(-1)?.marks ?? []));
  const more = $derived(stand.plan?.more ?? null);

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

{#snippet settings()}
  {#if more && !whole && !following}
    <span>
      {more.label} <strong>{stand.plan?.values[more.key]} {more.unit}</strong>
      <button class="act" aria-label="less: {more.label}" onclick={() => stand.turn(more, -1)}>
        <Key shown="−" />
      </button>
      <button class="act" aria-label="more: {more.label}" onclick={() => stand.turn(more, 1)}>
        <Key shown="+" />
      </button>
    </span>
  {/if}
  {#if roomy.current}
    <button class="act" onclick={toggleFar}>
      view <strong>{far ? 'far' : 'near'}</strong><Key shown="F" />
    </button>
  {/if}
  <button
    class="act"
    disabled={following !== null}
    onclick={nextStandard}
    title={standards().join(', ')}
  >
    standard <strong>{player.standard}</strong><Key shown="G" />
  </button>
{/snippet}

<View framed {lead}>
  <header>
    <h1>{(whole && stand.whole?.title) || (stand.plan?.sheet.title ?? '')}</h1>
    <span class="dim">{player.name}, {player.instrument_name}</span>
    {#if stand.repeated}<strong role="status">{stand.repeated}</strong>{/if}
    <span class="settings">
      {#if roomy.current}{@render settings()}{/if}
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
    <div class="stand" class:far class:led={whole}>
      <Now
        {plan}
        note={stand.note}
        onturn={whole || following ? null : (way) => void stand.turn(plan.higher, way)}
      />
      {#if mirror}
        <div class="mirror"><Mirror /></div>
      {:else}
        {#if far && stand.take && !stand.playing}
          <div class="bars"><Foremost rules={stand.take.verdict.rules} /></div>
        {/if}
        {#if !roomy.current}<div class="set">{@render settings()}</div>{/if}
        {#if standIn && !whole && !(far && roomy.current)}
          <section class="skill" aria-label="The stand-in player">
            <p class="dim">The stand-in player</p>
            <SkillPanel bind:skill={stand.skill} />
          </section>
        {/if}
      {/if}

      <section class="sound" aria-label="Sound">
        {#if plan.sheet.svg}
          <div class="music">
            <Music
              svg={plan.sheet.svg}
              described={plan.sheet.described}
              outcomes={stand.take?.verdict.steps}
              at={stand.reached}
              fill
            />
          </div>
        {/if}
        <div class="slots">
          {#if going.breath}
            <Pacer breath={going.breath} />
          {:else}
            <SlotView
              slots={plan.sheet.bands}
              limitCents={plan.sheet.limit_cents}
              frames={stand.frames}
              stretches={stand.stretches}
              {windowS}
              live={stand.listening}
              label="Your sound in {plan.sheet.title}{heard && `: ${heard}`}"
            />
          {/if}
          {#if !stand.listening}
            <div class="begin">
              <button class="act-main" disabled={stand.starting} onclick={start}>
                {standIn ? 'Stand-in, play' : 'Listen'}<Key shown="Space" />
              </button>
            </div>
          {/if}
        </div>
        <VerdictPanel {stand} {plan} />
      </section>
    </div>
    {#if following && !roomy.current}
      <Remote keys={whole ? REMOTE : ['o']} />
    {/if}
  {/if}

  {#snippet foot()}
    {#if following}
      <Elsewhere bind:this={elsewhere} {stand} />
    {:else if stand.listening}
      {#if !standIn && stand.inputs.length > 1}
        <select
          class="select w-auto"
          aria-label="Input"
          bind:value={stand.inputId}
          onchange={useMicrophone}
        >
          <option value="">the usual input</option>
          {#each stand.inputs as input (input.id)}<option value={input.id}>{input.label}</option
            >{/each}
        </select>
      {/if}
      {#if stand.line === 'lost'}<span role="status">reconnecting…</span>{/if}
      {#if standIn}
        <Meter level={stand.level} label="Stand-in" />
      {:else}
        <Meter level={stand.level} label="Microphone" onopen={() => (checking = true)} />
        <Check level={stand.level} bind:open={checking} />
      {/if}
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

  .stand {
    flex: 1;
    min-height: 0;
    display: grid;
    grid-template-columns: minmax(15rem, 20.5rem) 1fr;
    grid-template-rows: 1fr auto;
    column-gap: 2.2rem;
  }

  .left {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.2rem 1.2rem;
    padding-bottom: 0.4rem;
  }

  .bars {
    grid-row: 2;
    padding-block: 0.6rem;
    padding-right: 1.5rem;
    border-right: 1px solid var(--line);
  }

  .mirror {
    grid-row: 2;
    padding-right: 1.5rem;
    border-right: 1px solid var(--line);
  }

  .skill {
    grid-row: 2;
    padding-block: 0.5rem;
    padding-right: 1.5rem;
    border-top: 1px solid var(--line);
    border-right: 1px solid var(--line);
  }

  .sound {
    grid-row: 1 / span 2;
    grid-column: 2;
    display: flex;
    flex-direction: column;
    min-width: 0;
    min-height: 0;
  }

  .music {
    --music-height: 11rem;

    display: flex;
    max-height: 15.5rem;
    flex: none;
  }

  .music > :global(.music) {
    flex: 1;
    overflow-y: auto;
    padding-block: 0.2rem;
  }

  .slots {
    position: relative;
    flex: 1;
    min-height: 14rem;
  }

  .begin {
    position: absolute;
    inset: 0;
    display: grid;
    place-items: center;
    padding-left: 5rem;
  }

  /* With what is next above it, the ribbon leaves room for the verdict. */
  .led .slots {
    min-height: 9rem;
  }

  .led :global(.now > p:first-child) {
    display: none;
  }

  .led :global(.now .hand) {
    font-size: 1.25rem;
  }

  /* On a low screen the three bars need the room more than how the note sounds. */
  @media (max-height: 900px) {
    .led :global(.now .beside > .dim) {
      display: none;
    }
  }

  .led .music {
    --music-height: 8rem;

    max-height: 8.5rem;
  }

  .far :global(.verdict dl),
  .far :global(.verdict ~ p) {
    display: none;
  }

  .far :global(.said) {
    min-height: 11rem;
  }

  .far :global(.said h2) {
    font-size: clamp(2.4rem, 5vw, 6.5rem);
  }

  .far :global(.said h2.short) {
    font-size: clamp(4rem, 10vw, 9rem);
  }

  .far :global(.verdict p) {
    font-size: clamp(1.5rem, 2.2vw, 2.4rem);
  }

  /* A tablet upright, as it stands on the desk: the note on top, then music, sound and the verdict. */
  @media (orientation: portrait) and (min-width: 761px) {
    .stand {
      display: flex;
      flex-direction: column;
      gap: 0.4rem;
    }

    .sound {
      flex: 1;
    }

    .music,
    .led .music {
      --music-height: 15rem;

      max-height: 20rem;
    }

    .bars,
    .mirror,
    .skill {
      order: 3;
      border-right: 0;
      padding-right: 0;
    }
  }

  @media (max-width: 760px) {
    /* What to do next and how it went come before the pictures. */
    .sound > :global(.said) {
      order: -1;
      min-height: 0;
    }

    .stand {
      display: flex;
      flex-direction: column;
      gap: 0.6rem;
    }

    .bars,
    .mirror,
    .set,
    .skill {
      order: 3;
      border-right: 0;
      padding-right: 0;
    }

    .set {
      display: flex;
      flex-wrap: wrap;
      gap: 0.2rem 1.5rem;
    }

    .slots {
      flex: none;
      height: 21rem;
    }

    .begin {
      padding-left: 3.6rem;
    }
  }
</style>
