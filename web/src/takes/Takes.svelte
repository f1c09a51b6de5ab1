<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, problemOf, type Problem, type Recording, type Take } from '../api/client';
  import FileButton from '../parts/FileButton.svelte';
  import Key from '../parts/Key.svelte';
  import Notice from '../parts/Notice.svelte';
  import NoteSpan from '../parts/NoteSpan.svelte';
  import { upDown } from '../parts/updown';
  import View from '../parts/View.svelte';
  import { bringBack, complain, deleteSound } from './deletion';
  import { offer } from '../parts/keys.svelte';
  import { record } from './record.svelte';
  import { addRecording, pagePath } from './kept';
  import { who } from '../players/who.svelte';
  import SessionHead from './SessionHead.svelte';
  import { byDay, clock } from './days';
  import { bySession, sessionsOf, type SessionLine } from './sessions';

  const player = $derived(who.current);

  const PAGE = 50;
  const RECORDINGS = 200;

  let takes = $state.raw<Take[]>([]);
  let recordings = $state.raw<Recording[]>([]);
  let sessions = $state.raw<SessionLine[]>([]);
  let loaded = $state(false);
  let more = $state(false);
  let problem = $state.raw<Problem | null>(null);
  let at = $state(0);
  let ear = $state('');
  let over = $state(false);
  /** The name of the file that is being listened to. */
  let hearing = $state('');
  let chooser = $state<FileButton>();

  const placed = ({ id, started_at }: Take | Recording) => ({ id, started_at });

  /** Takes and recordings, newest first; recordings older than the takes shown wait for them. */
  const entries = $derived(
    [
      ...takes.map((take) => ({
        kind: 'takes' as const,
        take,
        recording: null,
        session_id: take.session_id,
        ...placed(take),
      })),
      ...recordings
        .filter(({ started_at }) => !more || started_at > (takes.at(-1)?.started_at ?? ''))
        .map((recording) => ({
          kind: 'recordings' as const,
          take: null,
          recording,
          session_id: null,
          ...placed(recording),
        })),
    ].sort((a, b) => Date.parse(b.started_at) - Date.parse(a.started_at)),
  );
  const days = $derived(byDay(entries, new Date()));

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
      sessions = await sessionsOf(player.id);
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

  async function add(files: Iterable<File>) {
    const all = [...files];
    over = false;
    let last: Recording | null = null;
    for (const file of all) {
      hearing = file.name;
      try {
        last = await addRecording(player.id, file);
      } catch (error) {
        complain(error);
      }
    }
    hearing = '';
    if (last && all.length === 1) void push(`/recordings/${last.id}`);
    else if (last) await load();
  }

  function drop(event: DragEvent) {
    event.preventDefault();
    void add(event.dataTransfer?.files ?? []);
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
    if (!entry || !(await deleteSound(entry, () => void load()))) return;
    takes = takes.filter(({ id }) => id !== entry.id);
    recordings = recordings.filter(({ id }) => id !== entry.id);
    go(at);
  }

  const number = (take: Take, rule: string) =>
    take.verdict.rules.find((line) => line.rule === rule && line.told);

  offer(() => [
    ...upDown((by) => go(at + by), 'newer', 'older', {
      disabled: !entries.length,
      quiet: 'none',
    }),
    {
      keys: ['Enter'],
      shown: 'Enter',
      label: 'open',
      run: () => {
        const entry = entries[at];
        if (entry) void push(pagePath(entry));
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
      run: () => chooser?.open(),
      disabled: hearing !== '',
    },
    { keys: ['z'], shown: 'Z', label: 'bring back', run: () => void bringBack(), quiet: true },
  ]);
</script>

<View
  framed
  wide
  problem={entries.length ? null : problem}
  retry={() => load()}
  role="region"
  aria-label="Takes"
  ondragover={hover}
  ondragleave={() => (over = false)}
  ondrop={drop}
  data-over={over || undefined}
>
  <header>
    <h1>{player.name}’s takes</h1>
    <FileButton
      bind:this={chooser}
      label="Recordings to add"
      accept=".wav,.flac,.ogg,.oga,audio/*"
      many
      disabled={hearing !== ''}
      onchoose={(files) => void add(files)}
    >
      <Key shown="A" />Add a recording
    </FileButton>
  </header>
  {#if hearing}
    <p class="ear" role="status">Listening to {hearing}…</p>
  {:else if over}
    <p class="ear" role="status">Let go, and Orexis listens to it.</p>
  {:else if takes.length && ear}
    <p class="ear dim">{ear}</p>
  {/if}
  <div class="list">
    {#if loaded && !entries.length}
      <Notice
        title="Nothing played yet"
        detail="Every attempt on the Stand is kept here as you play it: its sound, its measures and its verdict. A WAV, FLAC or Ogg file dropped here is listened to as well."
      >
        <a class="act-main" href="#/stand">Go to the Stand</a>
      </Notice>
    {/if}
    {#each days as day (day.name)}
      <section aria-label={day.name}>
        <h2>{day.name}</h2>
        {#each bySession(day.entries, sessions) as run (run.entries[0]?.id)}
          {#if run.session}<SessionHead session={run.session} />{/if}
          <ul>
            {#each run.entries as entry (entry.id)}
              {@const index = entries.indexOf(entry)}
              {@const { take, recording } = entry}
              <li>
                <a
                  id="entry-{entry.id}"
                  href="#{pagePath(entry)}"
                  class:at={index === at}
                  class:recording
                  onfocus={() => (at = index)}
                >
                  <span class="clock dim">{clock(entry.started_at)}</span>
                  {#if take}
                    <span class="name"><NoteSpan span={take.span} /></span>
                    <span class="said" class:go={take.verdict.passed}>
                      {take.verdict.headline}
                      {#if take.place}<small class="dim">{take.place}</small>{/if}
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
                    {#if !number(take, 'centre')}
                      <span class="number dim">{take.exercise}</span>
                    {/if}
                  {:else if recording}
                    <span class="said file">{recording.name}</span>
                    <span class="number">
                      <span class="dim">recording</span> <strong>{recording.notes_words}</strong>
                    </span>
                    <span class="number">
                      <strong>{recording.duration_words}</strong>
                    </span>
                  {/if}
                </a>
              </li>
            {/each}
          </ul>
        {/each}
      </section>
    {/each}
    {#if more}
      <button class="act" onclick={() => load(takes.at(-1)?.started_at)}>Older takes</button>
    {/if}
  </div>
</View>

<style>
  /* Over everything, the foot too. */
  :global([data-over]) {
    position: relative;
  }

  :global([data-over])::after {
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

  .said small {
    display: block;
    font-size: 0.95rem;
    font-weight: 400;
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
