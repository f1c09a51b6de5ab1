<script lang="ts">
  import { onDestroy, untrack } from 'svelte';
  import { answer, api, problemOf, type Problem, type RecordingDetail } from '../api/client';
  import Foot from '../parts/Foot.svelte';
  import Key from '../parts/Key.svelte';
  import ListenBack from '../parts/ListenBack.svelte';
  import Notice from '../parts/Notice.svelte';
  import NoteName from '../parts/NoteName.svelte';
  import { ribbonOf, RibbonFrames } from '../ribbon/frames';
  import { offer } from '../state/keys.svelte';
  import { LEAVING, Listening } from '../state/listening.svelte';
  import { clock, dayName } from './days';

  let { params }: { params: { id: string } } = $props();

  const id = $derived(params.id);

  let recording = $state.raw<RecordingDetail | null>(null);
  let listening = $state.raw<Listening | null>(null);
  let problem = $state.raw<Problem | null>(null);
  let wanted = $state('');
  let refusal = $state('');
  let field = $state<HTMLInputElement>();

  const frames = $derived(recording ? ribbonOf(recording.frames) : new RibbonFrames());

  async function load(recordingId: string) {
    leave();
    problem = null;
    try {
      const found = await answer(
        api.GET('/api/recordings/{recording_id}', {
          params: { path: { recording_id: recordingId } },
        }),
      );
      if (recordingId !== id) return;
      recording = found;
      wanted = found.wanted;
      listening = new Listening('recordings', recordingId, found.duration_s, found.pins);
      await listening.load();
    } catch (error) {
      problem = problemOf(error);
    }
  }

  $effect(() => {
    const opened = id;
    untrack(() => void load(opened));
  });

  function leave() {
    listening?.close();
    listening = null;
    recording = null;
  }
  onDestroy(leave);

  async function keepWanted(event: SubmitEvent) {
    event.preventDefault();
    try {
      recording = await answer(
        api.PUT('/api/recordings/{recording_id}/wanted', {
          params: { path: { recording_id: id } },
          body: { wanted },
        }),
      );
      refusal = '';
      field?.blur();
    } catch (error) {
      refusal = problemOf(error).detail;
    }
  }

  offer(() => [
    ...(listening?.actions(recording?.marks ?? []) ?? []),
    {
      keys: ['w'],
      shown: 'W',
      label: 'what you meant to play',
      run: () => field?.focus(),
      disabled: !recording,
    },
    ...LEAVING,
  ]);
</script>

<div class="view">
  {#if problem}
    <div class="whole">
      <Notice title={problem.title} detail={problem.detail}>
        <button class="act-main" onclick={() => load(id)}>Try again</button>
        <a class="act" href="#/takes">All takes</a>
      </Notice>
    </div>
  {:else if recording && listening}
    <header>
      <h1>{recording.name}</h1>
      <p class="dim">
        {dayName(new Date(recording.started_at), new Date())}, {clock(recording.started_at)},
        {recording.instrument}, {recording.duration_s.toFixed(1)} s, {recording.note_count}
        {recording.note_count === 1 ? 'note' : 'notes'}
      </p>
      <a class="act" href="/api/recordings/{recording.id}/sound" download="{recording.id}.flac">
        Save the sound (FLAC)
      </a>
    </header>
    {#if recording.clipped}
      <p>It is clipped in places: move back or turn the input down next time.</p>
    {/if}
    <ListenBack
      {listening}
      {frames}
      marks={recording.marks}
      slots={recording.slots}
      range={[recording.lowest_cents, recording.highest_cents]}
      limitCents={0}
      name="The whole recording"
    />
    <div class="told">
      <section aria-label="What you meant to play">
        <form onsubmit={keepWanted}>
          <label>
            What did you mean to play? <Key shown="W" />
            <input
              bind:this={field}
              bind:value={wanted}
              class="input"
              maxlength="400"
              placeholder="C4 E4 G4"
            />
          </label>
          <button class="act-main">Compare<Key shown="Enter" /></button>
        </form>
        {#if refusal}<p role="alert">{refusal}</p>{/if}
        {#if recording.pattern}
          <ol class="wanted" aria-label="Notes you meant">
            {#each recording.pattern.notes as note, i (i)}
              <li class:missed={!note.spoke}>
                <span class="name"><NoteName name={note.name} /></span>
                <span class="dim">{note.spoke ? note.off : 'missed'}</span>
              </li>
            {/each}
          </ol>
          {#each recording.pattern.sentences as sentence (sentence)}<p>{sentence}</p>{/each}
        {/if}
      </section>
      {#if recording.notes.length}
        <div class="notes">
          <table>
            <thead>
              <tr>
                <th>at</th><th>note</th><th>off</th><th>spread, cents</th><th>length</th>
                <th>clearness</th>
              </tr>
            </thead>
            <tbody>
              {#each recording.notes as note, i (i)}
                <tr>
                  <td>
                    <button class="spot" onclick={() => listening?.seek(note.at_s)}>
                      {note.at_s.toFixed(1)} s
                    </button>
                  </td>
                  <td class="name"><NoteName name={note.name} /></td>
                  <td>{note.off}</td>
                  <td>{note.spread}</td>
                  <td>{note.seconds.toFixed(2)} s</td>
                  <td>{note.clearness} dB</td>
                </tr>
              {/each}
            </tbody>
          </table>
        </div>
      {:else}
        <p>No note was heard in it. Is the horn loud enough beside the room?</p>
      {/if}
    </div>
  {/if}
  <Foot />
</div>

<style>
  header {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 0.4rem 1.6rem;
    padding-block: 1rem 0.8rem;
  }

  header .act {
    margin-left: auto;
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }

  h1 {
    font-size: clamp(1.8rem, 3.6vw, 2.8rem);
    overflow-wrap: anywhere;
  }

  .told {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    gap: 2.6rem;
    padding-block: 0.8rem 1rem;
  }

  form {
    display: flex;
    flex-wrap: wrap;
    align-items: end;
    gap: 0.8rem;
  }

  label {
    flex: 1;
    min-width: 14rem;
  }

  section p {
    font-size: 1.15rem;
    margin-top: 0.3rem;
  }

  .wanted {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem 1.4rem;
    padding-block: 0.7rem 0.3rem;
  }

  .wanted li {
    display: grid;
  }

  .wanted .name {
    font-size: 1.7rem;
    line-height: 1.2;
  }

  .missed .name {
    color: var(--dim);
    font-weight: 400;
  }

  .notes {
    max-height: 17rem;
    overflow-y: auto;
  }

  table {
    width: 100%;
    border-collapse: collapse;
  }

  th {
    position: sticky;
    top: 0;
    background: var(--paper);
    color: var(--dim);
    font-weight: 400;
    text-align: left;
    padding: 0.2rem 0.6rem 0.4rem 0;
  }

  td {
    border-top: 1px solid var(--line);
    padding: 0.25rem 0.6rem 0.25rem 0;
    white-space: nowrap;
  }

  td.name {
    font-weight: 700;
  }

  .spot {
    cursor: pointer;
    min-height: 1.75rem;
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }

  @media (max-width: 760px) {
    .told {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
