<script lang="ts">
  import { onDestroy, onMount, untrack } from 'svelte';
  import { push, router } from 'svelte-spa-router';
  import type { Player } from '../api/client';
  import GettingReady from '../parts/GettingReady.svelte';
  import Key from '../parts/Key.svelte';
  import { offer } from '../parts/keys.svelte';
  import Notice from '../parts/Notice.svelte';
  import View from '../parts/View.svelte';
  import Check from '../microphone/Check.svelte';
  import Meter from '../microphone/Meter.svelte';
  import { TROUBLES } from '../microphone/trouble';
  import { who } from '../players/who.svelte';
  import Reading from '../ribbon/Reading.svelte';
  import SlotView from '../ribbon/SlotView.svelte';
  import { drone } from '../sounding/drone.svelte';
  import { metronome } from '../sounding/metronome.svelte';
  import { hurtsOf } from '../stand/hurts';
  import { deleteSound } from '../takes/deletion';
  import { FreePlay } from './free.svelte';
  import Piece from './Piece.svelte';
  import Played from './Played.svelte';
  import Unclaimed from './Unclaimed.svelte';

  const SHOWN_S = 8;

  /** `ownId` is the piece to follow. */
  let { params = {} }: { params?: { ownId?: string } } = $props();

  const player = $derived(who.player);
  const free = untrack(() => new FreePlay(player));
  onDestroy(() => void free.leave());
  const { piece } = free;
  onMount(() => {
    const { ownId } = params;
    if (ownId) void piece?.chooseById(ownId);
    if (router.location === '/free/now') void free.start();
  });

  /** Who said that what was played without a player was theirs. */
  let owner: Player | null = null;

  let hurting = $state(false);
  $effect(() => {
    if (player) void hurtsOf(player.id).then((hurts) => (hurting = hurts));
  });

  const whole = $derived([{ from: 0, to: null, label: '', pale: false, marks: [] }]);
  /** The microphone is being looked at. */
  let checking = $state(false);
  const trouble = $derived(free.trouble && TROUBLES[free.trouble]);

  /** Throws away what was just kept; it can be brought back for a week. */
  async function throwAway() {
    const { over } = free;
    if (!over?.recording_id) return;
    const back = () => (free.over = over);
    if (await deleteSound({ kind: 'recordings', id: over.recording_id }, back)) {
      free.over = { ...over, recording_id: null };
    }
  }

  function barByBar() {
    const id = free.over?.recording_id;
    if (id && piece?.own) void push(`/own/${piece.own.id}?recording=${id}`);
  }

  function open() {
    const id = free.over?.recording_id;
    if (!id) return;
    if (owner) who.choose(owner.id);
    void push(`/recordings/${id}`);
  }

  offer(() => [
    ...(free.listening
      ? [
          { keys: ['n'], shown: 'N', label: 'mark this spot', run: () => free.mark() },
          {
            keys: ['m'],
            shown: 'M',
            label: 'how well the microphone hears',
            run: () => (checking = true),
            quiet: true,
          },
        ]
      : []),
    free.listening
      ? { keys: [' '], shown: 'Space', label: 'stop', run: () => void free.stop() }
      : {
          keys: [' '],
          shown: 'Space',
          label: free.over ? 'listen again' : 'listen',
          run: () => void free.start(),
          disabled: free.starting || hurting,
        },
    ...(piece?.all.length
      ? [
          {
            keys: ['f'],
            shown: 'F',
            label: piece.own ? 'another piece to follow' : 'follow a piece',
            run: () => piece.next(),
          },
        ]
      : []),
    ...(free.over?.recording_id && !free.listening
      ? [
          ...(piece?.own ? [{ keys: ['b'], shown: 'B', label: 'bar by bar', run: barByBar }] : []),
          { keys: ['Enter'], shown: 'Enter', label: 'hear it, see it', run: open },
          { keys: ['x'], shown: 'X', label: 'delete it', run: () => void throwAway() },
        ]
      : []),
  ]);
</script>

<View wide problem={free.listening ? null : free.problem} retry={() => free.load()}>
  {#if trouble}
    <Notice title={trouble.title} detail={trouble.detail}>
      <button class="act-main" onclick={() => void free.start()}>Try again</button>
    </Notice>
  {:else if free.listening}
    <div class="now" class:beside={piece?.own} role="region" aria-label="The note">
      <div class="name" class:quiet={!free.sounding}>{free.note?.name ?? '–'}</div>
      <div class="about">
        {#if free.gettingReady}
          <GettingReady
            leftS={free.gettingReady.leftS}
            meanwhile="You can play already: your notes are named once Orexis is ready."
          />
        {:else if free.note}
          <p class="big">{free.note.words}</p>
          <p>
            {[
              free.note.interval,
              free.note.sounding_name !== free.note.name && `sounds ${free.note.sounding_name}`,
              free.note.hand,
              free.note.partial && `partial ${free.note.partial}`,
            ]
              .filter(Boolean)
              .join(', ')}
          </p>
        {:else}
          <p class="big">Blow a note.</p>
          <p>Any note: it is named here, and drawn in its slot.</p>
        {/if}
        <Meter level={free.level} label="the microphone" onopen={() => (checking = true)} />
        {#if free.line === 'lost'}<p role="status">reconnecting…</p>{/if}
      </div>
      {#if metronome.beat}
        <div class="beat" class:quiet={metronome.beat.silent} aria-hidden="true">
          {metronome.beat.silent ? '·' : metronome.beat.number}
        </div>
      {/if}
    </div>
    <Check level={free.level} bind:open={checking} />
    {#if piece}<Piece {piece} />{/if}
    <div class="ribbon">
      <SlotView
        slots={free.bands}
        limitCents={free.chart?.limit_cents ?? 0}
        frames={free.frames}
        stretches={whole}
        windowS={SHOWN_S}
        live
        label="What you play, in the slot of its note"
      />
    </div>
    {#if !player && free.note}
      <ul class="explained" aria-label="Reading the ribbon">
        <Reading />
      </ul>
    {/if}
    <p class="ways">
      <button class="act-main" onclick={() => void free.stop()}><Key shown="Space" />Stop</button>
      {#if free.marked}<span role="status" class="dim">{free.marked} marked</span>{/if}
      {#if !metronome.running}
        <button class="act" onclick={() => metronome.toggle()}><Key shown="8" />metronome</button>
      {/if}
      {#if !drone.running}
        <button class="act" onclick={() => drone.toggle(player)}><Key shown="9" />drone</button>
      {/if}
      {#if piece?.all.length}
        <button class="act" onclick={() => piece.next()}
          ><Key shown="F" />{piece.own ? 'another piece' : 'follow a piece'}</button
        >
      {/if}
    </p>
  {:else}
    <header>
      <h1>Free</h1>
      <p class="dim">
        Play whatever you like. Every note is named, and what you play is kept. Key 8 is the
        metronome, 9 the drone.
      </p>
    </header>
    {#if hurting}
      <p role="status">
        Something hurt, so playing waits. <a href="#/stand">Say on the Stand when it is over.</a>
      </p>
    {/if}
    <p class="ways">
      <button class="act-main" disabled={free.starting || hurting} onclick={() => void free.start()}
        ><Key shown="Space" />{free.over ? 'Listen again' : 'Listen'}</button
      >
    </p>
    {#if piece?.all.length}
      <div class="pieces" role="group" aria-label="Follow a piece">
        <span><Key shown="F" />Follow a piece:</span>
        {#each piece.all as one (one.id)}
          <button
            class="act"
            aria-pressed={one.id === piece.own?.id}
            onclick={() => void piece.choose(one.id === piece.own?.id ? null : one)}
            >{one.name}</button
          >
        {/each}
      </div>
      {#if piece.own && !free.over}<Piece {piece} />{/if}
    {/if}
    {#if free.ending}
      <p role="status">What you played is being put together…</p>
    {:else if free.over}
      <Played
        over={free.over}
        thrown={player !== null && !free.over.recording_id}
        onbars={piece?.own ? barByBar : undefined}
        onopen={open}
        onthrow={() => void throwAway()}
      />
    {/if}
    {#if free.unclaimed.length}
      <Unclaimed
        sittings={free.unclaimed}
        onclaim={(sitting, whose) => {
          owner = whose;
          return free.claim(sitting, whose);
        }}
        onthrow={(sitting) => free.discard(sitting)}
      />
    {/if}
  {/if}
</View>

<style>
  header {
    padding-top: 1.6rem;
  }

  h1 {
    font-size: clamp(2.2rem, 4.6vw, 3.4rem);
  }

  .now {
    display: grid;
    grid-template-columns: minmax(0, auto) minmax(0, 1fr) auto;
    align-items: center;
    gap: 0.4rem 2.4rem;
    padding-top: 0.8rem;
  }

  .name {
    font-family: var(--font-note);
    font-weight: 700;
    font-size: clamp(5rem, 18vw, 13rem);
    line-height: 1;
    min-width: 2.2ch;
  }

  .beside .name {
    font-size: clamp(4rem, 10vw, 7rem);
  }

  .beside .about .big {
    font-size: clamp(1.6rem, 3.4vw, 2.4rem);
  }

  .pieces {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.2rem 1.2rem;
    padding-bottom: 0.8rem;
    font-size: 1.125rem;
  }

  .pieces [aria-pressed='true'] {
    font-weight: 700;
    border-bottom: 3px solid var(--sound);
  }

  .beat {
    font-family: var(--font-note);
    font-weight: 700;
    font-size: clamp(3rem, 9vw, 7rem);
    line-height: 1;
    color: var(--sound);
    min-width: 1ch;
    text-align: center;
  }

  .quiet {
    color: var(--dim);
  }

  .about p {
    font-size: 1.375rem;
    padding-bottom: 0.4rem;
  }

  .about .big {
    font-size: clamp(1.8rem, 5vw, 3.4rem);
    line-height: 1.15;
  }

  .ribbon {
    position: relative;
    flex: 1;
    min-height: 14rem;
  }

  .explained {
    position: relative;
    width: fit-content;
    max-width: 34rem;
    margin: -8.2rem 0 2.2rem 6.5rem;
    padding: 0.6rem 1rem;
    background: var(--paper);
    border-left: 3px solid var(--sound);
    font-size: 1.125rem;
  }

  .ways {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.3rem 1.6rem;
    padding-block: 1rem;
  }

  a {
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }

  @media (max-width: 640px) {
    .now {
      grid-template-columns: 1fr;
    }

    .explained {
      margin: 0.6rem 0 0;
    }
  }
</style>
