<script lang="ts">
  import { onDestroy, untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, type Schemas } from '../api/client';
  import Key from '../parts/Key.svelte';
  import { offer } from '../parts/keys.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import NoteName from '../parts/NoteName.svelte';
  import Notice from '../parts/Notice.svelte';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';
  import { shortDay } from '../parts/dates';
  import NoteDays from './NoteDays.svelte';
  import { Replay } from './replay.svelte';
  import RangeTables from './RangeTables.svelte';
  import Tubes from './Tubes.svelte';
  import type { RangeNote } from './tubes';

  /** How far the player comes: a tube for each week, and what became of each note. */
  const player_id = untrack(() => who.current.id);
  const range = new Loaded<Schemas['RangeOut']>((signal) =>
    answer(api.GET('/api/players/{player_id}/range', { params: { path: { player_id } }, signal })),
  );
  const page = new Loaded<Schemas['NotePageOut']>((signal) =>
    answer(
      api.GET('/api/players/{player_id}/range/{midi}', {
        params: { path: { player_id, midi } },
        signal,
      }),
    ),
  );
  const replay = new Replay();
  onDestroy(() => replay.stop());

  let midi = $state(0);
  let onMouthpiece = $state(false);
  let asTable = $state(false);

  const found = $derived(range.value);
  const notes = $derived(found?.notes ?? []);
  const told = $derived(onMouthpiece ? found?.buzz : found?.horn);
  const rows = $derived(told?.rows ?? []);
  const note = $derived(notes.find((one) => one.midi === midi));
  const shown = $derived(page.value?.note.midi === midi ? page.value : null);

  async function load() {
    if (!(await range.load()) || !range.value) return;
    const { notes } = range.value;
    const highest = (...wanted: RangeNote['standing'][]) =>
      notes.find((one) => wanted.includes(one.standing));
    const first = highest('secure') ?? highest('held') ?? highest('touched', 'faded') ?? notes[0];
    if (first) choose(first.midi);
  }
  void load();

  function choose(next: number) {
    if (!notes.some((one) => one.midi === next)) return;
    midi = next;
    replay.stop();
    void page.load();
  }

  const hear = $derived(
    (
      [
        ['f', 'first'],
        ['b', 'best'],
        ['l', 'last'],
      ] as const
    ).map(([key, what]) => ({ key, what, take: shown?.[what] ?? null })),
  );

  function play(take: Schemas['HeardOut'] | null) {
    if (take) void replay.toggle(take.take_id);
  }

  const day = (at: string) => shortDay(new Date(at));
  offer(() => [
    {
      keys: ['ArrowLeft', 'PageUp'],
      shown: '←',
      label: 'lower',
      run: () => choose(midi - 1),
      disabled: !note,
    },
    {
      keys: ['ArrowRight', 'PageDown'],
      shown: '→',
      label: 'higher',
      run: () => choose(midi + 1),
      disabled: !note,
    },
    {
      keys: ['m'],
      shown: 'M',
      label: onMouthpiece ? 'horn' : 'mouthpiece',
      run: () => (onMouthpiece = !onMouthpiece),
      disabled: !found?.buzz.rows.length,
    },
    {
      keys: ['t'],
      shown: 'T',
      label: asTable ? 'as a picture' : 'as a table',
      run: () => (asTable = !asTable),
      disabled: !found,
    },
    { keys: ['c'], shown: 'C', label: 'changes', run: () => void push('/progress/changes') },
    { keys: ['y'], shown: 'Y', label: 'days', run: () => void push('/progress/days') },
    {
      keys: ['x'],
      shown: 'X',
      label: 'carry it elsewhere',
      run: () => void push('/progress/away'),
    },
    ...hear.map(({ key, what, take }) => ({
      keys: [key],
      shown: key.toUpperCase(),
      label: `hear the ${what}`,
      run: () => play(take),
      disabled: !take,
      quiet: true,
    })),
    {
      keys: ['Enter'],
      shown: 'Enter',
      label: 'open the last take',
      run: () => void push(`/takes/${shown?.last?.take_id}`),
      disabled: !shown?.last,
      quiet: true,
    },
  ]);
</script>

<View wide problem={range.problem} retry={() => void load()}>
  {#if found && !found.horn.rows.length && !found.buzz.rows.length}
    <Notice
      title="Nothing to see of your range yet"
      detail="Every note you play on the Stand counts here: how far you come by the week, and how each half step of your horn stands."
    >
      <a class="act-main" href="#/stand">Go to the Stand</a>
    </Notice>
  {:else if told}
    <h1>{told.headline}</h1>
    <p class="lead dim">{onMouthpiece ? 'On the mouthpiece alone. ' : ''}{told.words}</p>
    {#if asTable}
      <RangeTables {rows} {notes} page={shown} />
    {:else}
      <Tubes headline={told.headline} {rows} {notes} {midi} onchoose={choose} />
    {/if}
    {#if note}
      <section aria-label="The note">
        <p class="big"><NoteName name={note.name} /></p>
        <div class="told">
          <p class="stands">{note.words}</p>
          {#each shown?.lines ?? [] as line (line)}<p class="dim">{line}</p>{/each}
          {#if page.problem}<p role="alert">{page.problem.title}. {page.problem.detail}</p>{/if}
          {#if replay.trouble}<p role="alert">{replay.trouble}</p>{/if}
        </div>
        {#if shown}<NoteDays days={shown.days} name={note.name} near={shown.near_cents} />{/if}
        <div class="hear">
          {#if shown?.days.length && !shown.last}<p class="dim">
              No take of it has its sound.
            </p>{/if}
          {#each hear as { key, what, take } (key)}
            <button class="act" disabled={!take} onclick={() => play(take)}>
              <Key shown={key.toUpperCase()} />
              {take && replay.takeId === take.take_id ? 'stop' : what}
              {#if take}<span class="dim">{day(take.at)}</span>{/if}
            </button>
          {/each}
        </div>
      </section>
    {/if}
  {/if}
  {#snippet foot()}<span class="dim">thick: secure · thin: held 2 s · line: touched once</span
    >{/snippet}
</View>

<style>
  h1 {
    font-size: clamp(2rem, 4.4vw, 3.4rem);
    padding-top: 1.2rem;
  }

  .lead {
    font-size: 1.2rem;
    padding-bottom: 0.6rem;
  }

  section {
    display: grid;
    grid-template-columns: auto minmax(14rem, 1.2fr) minmax(0, 1fr) auto;
    gap: 0.6rem 1.6rem;
    align-items: center;
    padding-block: 0.5rem 0.8rem;
  }

  .big {
    font-family: var(--font-note);
    font-weight: 700;
    font-size: clamp(3rem, 6vw, 4.6rem);
    line-height: 1;
    min-width: 2.2em;
  }

  .stands {
    font-size: 1.2rem;
  }

  .hear {
    display: grid;
    gap: 0.2rem;
    justify-items: start;
  }

  @media (max-width: 900px) {
    section {
      grid-template-columns: auto minmax(0, 1fr);
    }

    section > :global(:nth-child(n + 3)) {
      grid-column: 1 / -1;
    }

    .big {
      min-width: 0;
    }

    .hear {
      grid-auto-flow: column;
      justify-content: start;
      gap: 1rem;
    }
  }
</style>
