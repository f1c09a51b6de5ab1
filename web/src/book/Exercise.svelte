<script lang="ts">
  import { onDestroy, untrack } from 'svelte';
  import { push, router } from 'svelte-spa-router';
  import type { OwnExercise } from '../api/client';
  import { complain, toaster } from '../takes/deletion';
  import Field from '../parts/Field.svelte';
  import FileButton from '../parts/FileButton.svelte';
  import Key from '../parts/Key.svelte';
  import VerdictWords from '../parts/VerdictWords.svelte';
  import PieceBars from './PieceBars.svelte';
  import PieceTimes from './PieceTimes.svelte';
  import { offer } from '../parts/keys.svelte';
  import View from '../parts/View.svelte';
  import { keepMine, mineOf, unusual } from '../stand/mine';
  import { putOnStand } from '../stand/settings';
  import { who } from '../players/who.svelte';
  import Music from '../parts/Music.svelte';
  import { deleteOwn, keepOwn } from './own';
  import { AllTimes } from './times.svelte';
  import { OpenExercise } from './page.svelte';
  import { OpenPath } from './path.svelte';
  import PathSteps from './PathSteps.svelte';
  import ExerciseWords from './ExerciseWords.svelte';
  import Naming from './Naming.svelte';
  import SlotTaps from './SlotTaps.svelte';
  import { Tapping } from './tapping.svelte';

  /** `own` is the exercise as the player keeps it under a name. */
  let { params, own }: { params: { family: string }; own?: OwnExercise } = $props();

  const player = $derived(who.current);
  const family = $derived(params.family);
  let open = $state.raw(untrack(() => new OpenExercise(player.id, family, own?.values, own?.id)));

  $effect(() => {
    if (family === open.family) return;
    open.leave();
    open = new OpenExercise(player.id, family);
  });
  const tapping = untrack(() => new Tapping(player));
  onDestroy(() => {
    open.leave();
    tapping.leave();
  });

  const page = $derived(open.page);
  /** It is kept, and told bar by bar. */
  const isPiece = $derived(own !== undefined && (page?.is_music ?? false));

  const path = $derived(new OpenPath(player.id, family));
  $effect(() => void path.load());

  function practise() {
    if (!page?.sounds) return;
    putOnStand(player.id, { family: page.key, values: page.values });
    void push('/stand');
  }

  const times = untrack(() => new AllTimes(player.id, own?.id));
  $effect(() => {
    // Anew when a recording of it was added.
    void open.followedIn;
    if (isPiece) untrack(() => void times.load());
  });
  /** All the times, where there are more than the one that is told above. */
  const all = $derived(open.piece && times.count === 1 ? null : times.told);

  // A recording that is kept, to be followed as this exercise.
  const recording = untrack(() => new URLSearchParams(router.querystring).get('recording'));
  if (recording) void untrack(() => open.judgeKept(recording));

  /** How its attempts follow each other in a session. */
  let way = $state<Record<string, string | number | null | undefined>>({});

  function addToSession() {
    if (!page) return;
    const { key, title, values, ways } = page;
    const added = { title, family: key, values, way: unusual(ways, way), why: '' };
    const all = [...mineOf(player.id), added];
    keepMine(player.id, all);
    toaster.create({ title: `${title} is number ${all.length} of your session on the Stand.` });
  }

  const line = $derived(open.line);
  const written = $derived(line ? (open.values[line] ?? '') : '');
  const write = (change: (before: string) => string) => {
    if (line) open.put(line, change(written));
  };

  let naming = $state(false);

  /** Keeps what is set under its name, or asks for one. */
  function keep() {
    if (own) void keepAs(own.name);
    else naming = true;
  }

  async function keepAs(called: string) {
    // As it is typed by now; what the server has taken is text, where fields hold numbers.
    if (!(await open.load()) || !page) return;
    try {
      const body = { name: called, family: page.key, values: page.values };
      const kept = await keepOwn(player.id, body, own?.id);
      naming = false;
      toaster.create({ title: `${kept.name} is kept in your book.` });
      if (!own) void push(`/own/${kept.id}`);
    } catch (error) {
      complain(error);
    }
  }

  async function remove() {
    if (!own) return;
    const { id } = own;
    if (await deleteOwn(player.id, own, () => void push(`/own/${id}`))) void push('/book');
  }

  let musicxml = $state<HTMLAnchorElement>();
  let midi = $state<HTMLAnchorElement>();
  let chooser = $state<FileButton>();

  offer(() => [
    {
      keys: [' '],
      shown: 'Space',
      label: open.playing ? 'stop' : 'hear it',
      run: () => void open.hear(),
      disabled: !page?.sounds,
    },
    {
      keys: ['Enter'],
      shown: 'Enter',
      label: 'play it on the Stand',
      run: practise,
      disabled: !page?.sounds,
    },
    {
      keys: ['a'],
      shown: 'A',
      label: isPiece ? 'follow a recording' : 'judge a recording',
      run: () => chooser?.open(),
      disabled: open.hearing !== '' || !page?.sounds,
      quiet: true,
    },
    {
      keys: ['s'],
      shown: 'S',
      label: 'add to my session',
      run: addToSession,
      disabled: !page || open.refused !== null,
    },
    {
      keys: ['o'],
      shown: 'O',
      label: 'on paper',
      run: () => window.print(),
      disabled: !page,
    },
    { keys: ['x'], shown: 'X', label: 'MusicXML', run: () => musicxml?.click(), disabled: !page },
    { keys: ['m'], shown: 'M', label: 'MIDI', run: () => midi?.click(), disabled: !page },
    { keys: ['u'], shown: 'U', label: 'as usual', run: () => open.reset(), disabled: !page },
    {
      keys: ['k'],
      shown: 'K',
      label: own ? 'keep the changes' : 'keep it as yours',
      run: keep,
      disabled: !page || open.refused !== null,
    },
    ...(own && isPiece
      ? [
          {
            keys: ['f'],
            shown: 'F',
            label: 'play it freely',
            run: () => void push(`/free/piece/${own.id}`),
          },
        ]
      : []),
    ...(own
      ? [
          {
            keys: ['Delete'],
            shown: 'Delete',
            label: 'delete',
            run: () => void remove(),
            quiet: true,
          },
        ]
      : []),
    ...path.actions((values) => open.putAll(values)),
    ...(line ? tapping.actions(write) : []),
    {
      keys: ['Escape'],
      shown: 'Esc',
      label: 'the book',
      run: () => (naming ? (naming = false) : void push('/book')),
    },
  ]);
</script>

<View wide problem={open.problem} retry={() => open.load()}>
  {#snippet ways()}<a class="act" href="#/book">Choose another</a>{/snippet}
  {#if page}
    <header>
      <h1>{own?.name ?? page.title}</h1>
      <p class="dim">{own ? page.title : page.group}, {player.name}</p>
      <span class="judge">
        <FileButton
          bind:this={chooser}
          label="A recording of it"
          accept=".wav,.flac,.ogg,.oga,audio/*"
          disabled={open.hearing !== '' || !page.sounds}
          onchoose={([file]) => file && void open.judge(file)}
        >
          <Key shown="A" />{isPiece ? 'Follow a recording' : 'Judge a recording'}
        </FileButton>
      </span>
    </header>
    {#if open.refused}
      <p class="refused" role="alert">
        <strong>{open.refused.title}.</strong>
        {open.refused.detail}
      </p>
    {/if}
    <Music
      svg={page.svg}
      described={page.described}
      stale={open.refused !== null}
      outcomes={open.piece?.steps ?? open.attempt?.steps ?? times.told?.steps}
    />
    {#if naming}
      <Naming name={page.title} onname={keepAs} onleave={() => (naming = false)} />
    {/if}
    {#if open.hearing}
      <p class="dim" role="status">Listening to {open.hearing}…</p>
    {:else if open.attempt || open.piece}
      <div class="attempt">
        {#if open.attempt}
          <VerdictWords verdict={open.attempt} />
          <a href="#/recordings/{open.attempt.recording_id}">Hear it, and see it on the ribbon</a>
        {/if}
        {#if open.piece && open.piece.bars.length > 1}
          <PieceBars piece={open.piece} playerId={player.id} label="Bar by bar" />
          {#if open.followedIn}
            <a href="#/recordings/{open.followedIn}">Hear it, and see it on the ribbon</a>
          {/if}
        {/if}
      </div>
    {/if}
    {#if all}
      <div class="attempt">
        <PieceBars piece={all} playerId={player.id} label="All the times" />
        <PieceTimes times={all} ontakeout={(id) => void times.takeOut(id)} />
      </div>
    {/if}
    {#if line}
      <SlotTaps {tapping} line={written} onwrite={(text) => write(() => text)} />
    {/if}
    <div class="below">
      <div>
        <form class="fields" aria-label="What is set" onsubmit={(event) => event.preventDefault()}>
          {#each page.fields as field (field.key)}
            {#if field.is_line}
              <div class="line">
                <Field {field} bind:value={() => open.lineText, (text) => open.typeLine(text)} />
              </div>
            {:else}
              <Field {field} bind:value={open.values[field.key]} oninput={() => open.adjust()} />
            {/if}
          {/each}
        </form>
        <details>
          <summary>In a session</summary>
          <form
            class="fields"
            aria-label="In a session"
            onsubmit={(event) => event.preventDefault()}
          >
            {#each page.ways as field (field.key)}
              <Field
                {field}
                bind:value={() => way[field.key] ?? field.usual, (set) => (way[field.key] = set)}
              />
            {/each}
          </form>
          <button class="act" onclick={addToSession}><Key shown="S" />Add to my session</button>
        </details>
      </div>
      <div class="words">
        <PathSteps {path} onset={(values) => open.putAll(values)} />
        <ExerciseWords {page} />
        <p class="on">
          {#each page.leads_to as next (next.key)}
            <a href="#/book/{next.key}">on to {next.title}</a>
          {/each}
          {#each page.falls_back_to as back (back.key)}
            <a href="#/book/{back.key}">back to {back.title}</a>
          {/each}
        </p>
        <p class="files">
          <a bind:this={musicxml} href={open.file('musicxml')} download>MusicXML</a>
          <a bind:this={midi} href={open.file('midi')} download>MIDI</a>
        </p>
      </div>
    </div>
  {/if}
</View>

<style>
  summary {
    margin-block: 1rem 0.6rem;
    cursor: pointer;
    font-weight: 700;
  }

  header {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 0.2rem 1.4rem;
    padding-top: 1.2rem;
  }

  h1 {
    font-size: clamp(2rem, 4vw, 3rem);
  }

  .refused {
    font-size: 1.25rem;
    border-left: 3px solid var(--sound);
    padding: 0.3rem 0 0.3rem 0.9rem;
    margin-top: 0.6rem;
  }

  .judge {
    margin-left: auto;
  }

  .attempt {
    padding-bottom: 1.6rem;
  }

  .attempt a {
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }

  .below {
    flex: 1;
    display: grid;
    grid-template-columns: minmax(15rem, 1fr) 2fr;
    gap: 1.2rem 3rem;
    padding-bottom: 1.6rem;
  }

  .fields {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(8.5rem, 1fr));
    gap: 0.8rem 1rem;
    align-content: start;
  }

  .line {
    grid-column: 1 / -1;
  }

  .on,
  .files {
    display: flex;
    flex-wrap: wrap;
    gap: 0.3rem 1.4rem;
    padding-top: 0.6rem;
  }

  .on a,
  .files a {
    text-decoration: underline;
    text-underline-offset: 0.2em;
    min-height: 1.5rem;
  }

  @media (max-width: 760px) {
    .below {
      grid-template-columns: 1fr;
    }
  }

  @media print {
    .fields,
    .on,
    .files,
    .refused,
    .judge,
    .attempt {
      display: none;
    }

    .below {
      display: block;
    }
  }
</style>
