<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, problemOf, type Problem, type Recording, type Take } from '../api/client';
  import Foot from '../parts/Foot.svelte';
  import Key from '../parts/Key.svelte';
  import Notice from '../parts/Notice.svelte';
  import NoteName from '../parts/NoteName.svelte';
  import { bringBack, complain, deleteSound } from '../state/deletion';
  import { offer } from '../state/keys.svelte';
  import { record } from '../state/record.svelte';
  import { addRecording } from '../state/recordings';
  import { who } from '../state/who.svelte';
  import { byDay, clock } from './days';

  const player = $derived(who.current);

  const PAGE = 50;
  const RECORDINGS = 200;

  let takes = $state.raw<Take[]>([]);
  let recordings = $state.raw<Recording[]>([]);
  let loaded = $state(false);
  let more = $state(false);
  let problem = $state.raw<Problem | null>(null);
  let at = $state(0);
  let ear = $state('');
  let over = $state(false);
  /** The name of the file that is being listened to. */
  let hearing = $state('');
  let chooser = $state<HTMLInputElement>();

  /** Takes and recordings, newest first; recordings older than the takes shown wait for them. */
  const entries = $derived(
    [
      ...takes.map((take) => ({ started_at: take.started_at, id: take.id, take, recording: null })),
      ...recordings
        .filter(({ started_at }) => !more || started_at > (takes.at(-1)?.started_at ?? ''))
        .map((recording) => ({
          started_at: recording.started_at,
          id: recording.id,
          take: null,
          recording,
        })),
    ].sort((a, b) => Date.parse(b.started_at) - Date.parse(a.started_at)),
  );
  const days = $derived(byDay(entries, new Date()));
  const pathOf = (entry: (typeof entries)[number]) =>
    entry.take ? `/takes/${entry.id}` : `/recordings/${entry.id}`;

  async function load(before?: string) {
    const path = { player_id: player.id };
    try {
      const found = await answer(
        api.GET('/api/players/{player_id}/takes', {
          params: { path, query: { count: PAGE, before } },
        }),
      );
      takes = before ? [...takes, ...found] : found;
      more = found.length === PAGE;
      recordings = await answer(
        api.GET('/api/players/{player_id}/recordings', {
          params: { path, query: { count: RECORDINGS } },
        }),
      );
      const heard = await answer(api.GET('/api/players/{player_id}/ear', { params: { path } }));
      ear = heard.words;
      loaded = true;
      problem = null;
    } catch (error) {
      problem = problemOf(error);
    }
  }

  $effect(() => {
    void record.version;
    void untrack(load);
  });

  async function add(files: FileList | null | undefined) {
    over = false;
    let last: Recording | null = null;
    for (const file of files ?? []) {
      hearing = file.name;
      try {
        last = await addRecording(player.id, file);
      } catch (error) {
        complain(error);
      }
    }
    hearing = '';
    if (chooser) chooser.value = '';
    if (last && files?.length === 1) void push(`/recordings/${last.id}`);
    else if (last) await load();
  }

  function drop(event: DragEvent) {
    event.preventDefault();
    void add(event.dataTransfer?.files);
  }

  function hover(event: DragEvent) {
    event.preventDefault();
    over = true;
  }

  function go(to: number) {
    at = Math.max(0, Math.min(entries.length - 1, to));
    document.getElementById(`entry-${entries[at]?.id}`)?.focus();
  }

  async function remove() {
    const entry = entries[at];
    const source = entry?.take ? 'takes' : 'recordings';
    if (!entry || !(await deleteSound(source, entry.id, () => void load()))) return;
    takes = takes.filter(({ id }) => id !== entry.id);
    recordings = recordings.filter(({ id }) => id !== entry.id);
    go(at);
  }

  const number = (take: Take, rule: string) =>
    take.verdict.rules.find((line) => line.rule === rule);

  offer(() => [
    {
      keys: ['ArrowUp', 'PageUp'],
      shown: '↑',
      label: 'newer',
      run: () => go(at - 1),
      disabled: !entries.length,
    },
    {
      keys: ['ArrowDown', 'PageDown'],
      shown: '↓',
      label: 'older',
      run: () => go(at + 1),
      disabled: !entries.length,
    },
    {
      keys: ['Enter'],
      shown: 'Enter',
      label: 'open',
      run: () => {
        const entry = entries[at];
        if (entry) void push(pathOf(entry));
      },
      disabled: !entries.length,
    },
    {
      keys: ['Delete', 'Backspace'],
      shown: 'Delete',
      label: 'delete',
      run: () => void remove(),
      disabled: !entries.length,
    },
    {
      keys: ['a'],
      shown: 'A',
      label: 'add a recording',
      run: () => chooser?.click(),
      disabled: hearing !== '',
    },
    { keys: ['z'], shown: 'Z', label: 'bring back', run: () => void bringBack(), quiet: true },
  ]);
</script>

<div
  class="view framed wide"
  class:over
  role="region"
  aria-label="Takes"
  ondragover={hover}
  ondragleave={() => (over = false)}
  ondrop={drop}
>
  <header>
    <h1>{player.name}’s takes</h1>
    <button class="act" disabled={hearing !== ''} onclick={() => chooser?.click()}>
      <Key shown="A" />Add a recording
    </button>
    <input
      bind:this={chooser}
      type="file"
      accept=".wav,.flac,.ogg,.oga,audio/*"
      multiple
      hidden
      aria-label="Recordings to add"
      onchange={() => void add(chooser?.files)}
    />
  </header>
  {#if hearing}
    <p class="ear" role="status">Listening to {hearing}…</p>
  {:else if over}
    <p class="ear" role="status">Let go, and Orexis listens to it.</p>
  {:else if takes.length && ear}
    <p class="ear dim">{ear}</p>
  {/if}
  <div class="list">
    {#if problem}
      <Notice title={problem.title} detail={problem.detail}>
        <button class="act-main" onclick={() => load()}>Try again</button>
      </Notice>
    {:else if loaded && !entries.length}
      <Notice
        title="Nothing played yet"
        detail="Every try on the Stand is kept here as you play it: its sound, its measures and its verdict. A WAV, FLAC or Ogg file dropped here is listened to as well."
      >
        <a class="act-main" href="#/stand">Go to the Stand</a>
      </Notice>
    {/if}
    {#each days as day (day.name)}
      <section aria-label={day.name}>
        <h2>{day.name}</h2>
        <ul>
          {#each day.entries as entry (entry.id)}
            {@const index = entries.indexOf(entry)}
            {@const { take, recording } = entry}
            <li>
              <a
                id="entry-{entry.id}"
                href="#{pathOf(entry)}"
                class:at={index === at}
                class:recording
                onfocus={() => (at = index)}
              >
                <span class="clock dim">{clock(entry.started_at)}</span>
                {#if take}
                  <span class="name"><NoteName name={take.asked_name} /></span>
                  <span class="said" class:go={take.verdict.stands}>
                    {#if take.verdict.overruled_passed === null}{take.verdict.headline}
                    {:else}You said {take.verdict.stands ? 'go on' : 'again'}.{/if}
                  </span>
                  {#each ['centre', 'steady', 'held'] as rule (rule)}
                    {@const line = number(take, rule)}
                    {#if line}
                      <span class="number">
                        <span class="dim">{rule}</span> <strong>{line.words}</strong>
                        <span class="dim unit">{line.unit}</span>
                      </span>
                    {/if}
                  {/each}
                {:else if recording}
                  <span class="said file">{recording.name}</span>
                  <span class="number">
                    <span class="dim">recording</span> <strong>{recording.note_count}</strong>
                    <span class="dim unit">{recording.note_count === 1 ? 'note' : 'notes'}</span>
                  </span>
                  <span class="number">
                    <strong>{recording.duration_s.toFixed(1)}</strong>
                    <span class="dim unit">s</span>
                  </span>
                {/if}
              </a>
            </li>
          {/each}
        </ul>
      </section>
    {/each}
    {#if more}
      <button class="act" onclick={() => load(takes.at(-1)?.started_at)}>Older takes</button>
    {/if}
  </div>
  <Foot />
</div>

<style>
  .over {
    position: relative;
  }

  /* Over everything, the foot too. */
  .over::after {
    content: '';
    position: absolute;
    inset: 9px;
    border: 3px dashed var(--asked);
    pointer-events: none;
  }

  header {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    justify-content: space-between;
    gap: 0.4rem 1.6rem;
    padding-block: 1.6rem 0.6rem;
  }

  h1 {
    font-size: clamp(2.2rem, 4.6vw, 3.4rem);
  }

  h2 {
    font-size: 1.375rem;
    padding-block: 1.3rem 0.5rem;
  }

  .list {
    flex: 1;
    overflow-y: auto;
    min-height: 0;
    padding: 0 6px 1rem;
    margin-inline: -6px;
  }

  li {
    border-top: 1px solid var(--line);
  }

  a:not(.act-main) {
    display: grid;
    grid-template-columns: 4rem 6.2rem minmax(13rem, 1.5fr) repeat(3, minmax(8.8rem, 1fr));
    align-items: center;
    gap: 1rem;
    min-height: 3.6rem;
    padding-inline: 0.7rem;
    margin-inline: -0.7rem;
    border-left: 3px solid transparent;
  }

  a.recording:not(.act-main) {
    grid-template-columns: 4rem minmax(0, 1fr) auto 6rem;
  }

  .file {
    overflow-wrap: anywhere;
  }

  a.at {
    border-left-color: var(--sound);
    background: var(--sheet);
  }

  .name {
    font-size: 1.9rem;
  }

  .said {
    font-size: 1.2rem;
    font-weight: 700;
  }

  .said.go {
    color: var(--asked);
  }

  .number {
    white-space: nowrap;
  }

  .unit {
    font-size: 0.9375rem;
  }

  @media (max-width: 1000px) {
    a:not(.act-main) {
      grid-template-columns: 3.6rem 4.6rem 1fr;
      gap: 0.1rem 0.7rem;
      padding-block: 0.5rem;
    }

    .number {
      font-size: 0.9375rem;
      grid-row: 2;
    }

    .unit {
      display: none;
    }

    a.recording:not(.act-main) {
      grid-template-columns: 3.6rem 1fr auto;
    }

    .number:nth-of-type(4) {
      grid-column: 1 / span 2;
    }
  }
</style>
