<script lang="ts">
  import { onDestroy, untrack } from 'svelte';
  import { router } from 'svelte-spa-router';
  import { answer, api, problemOf, type OwnExercise } from '../api/client';
  import { ownExercises } from '../book/own';
  import { Loaded } from '../parts/loaded.svelte';
  import { who } from '../players/who.svelte';
  import { known } from '../api/fields.svelte';
  import Key from '../parts/Key.svelte';
  import ListenBack from './ListenBack.svelte';
  import SaveAs from './SaveAs.svelte';
  import Numbers from '../parts/Numbers.svelte';
  import NoteName from '../parts/NoteName.svelte';
  import { offer } from '../parts/keys.svelte';
  import View from '../parts/View.svelte';
  import { LEAVING } from './listening.svelte';
  import { startOf } from './kept';
  import ComparisonWords from './ComparisonWords.svelte';
  import { Compared } from './compared.svelte';
  import { Opened } from './opened.svelte';
  import Sound from './Sound.svelte';
  import Spot from './Spot.svelte';
  import { clock, dayName } from './days';

  let { params }: { params: { id: string } } = $props();

  const id = $derived(params.id);

  const ask = (recordingId: string) =>
    answer(
      api.GET('/api/recordings/{recording_id}', {
        params: { path: { recording_id: recordingId } },
      }),
    );
  const opened = new Opened('recordings', ask);
  const recording = $derived(opened.heard?.page ?? null);
  const listening = $derived(opened.heard?.listening ?? null);
  /** Another recording of the same passage, laid under it. */
  const compared = new Compared('recordings', ask);
  const other = $derived(compared.heard);
  const otherAt = $derived(recording?.others.findIndex(({ id }) => id === other?.page.id) ?? -1);
  const nextOther = $derived(recording?.others[otherAt + 1]);

  async function compare(otherId: string | undefined) {
    if (otherId && opened.heard && listening) {
      await compared.open(listening.kept, opened.heard.frames.end, otherId);
    } else compared.close();
  }
  const MANY_NOTES = 200;
  /** Of a long recording, only the notes that are in view stand in the table. */
  const notes = $derived.by(() => {
    const all = recording?.notes ?? [];
    if (!listening || all.length <= MANY_NOTES) return all;
    const { fromS, windowS } = listening;
    return all.filter(({ at_s }) => at_s >= fromS && at_s < fromS + windowS);
  });

  const own = new Loaded<OwnExercise[]>((signal) => ownExercises(who.current.id, signal));
  void own.load();
  let wanted = $state('');
  let refusal = $state('');
  let field = $state<HTMLInputElement>();
  let filling = $state(false);

  const meant = known.fields.listening.wanted;

  async function load(recordingId: string) {
    compared.close();
    await opened.open(recordingId, startOf(router.querystring));
    if (recordingId === id) leaveWanted();
  }

  $effect(() => {
    const shown = id;
    untrack(() => void load(shown));
  });
  onDestroy(() => {
    opened.close();
    compared.close();
  });

  async function keepWanted(event: SubmitEvent) {
    event.preventDefault();
    try {
      opened.put(
        await answer(
          api.PUT('/api/recordings/{recording_id}/wanted', {
            params: { path: { recording_id: id } },
            body: { wanted },
          }),
        ),
      );
      refusal = '';
      field?.blur();
    } catch (error) {
      refusal = problemOf(error).detail;
    }
  }

  /** Leaves what was meant as it is kept. */
  function leaveWanted() {
    wanted = recording?.wanted ?? '';
    refusal = '';
    field?.blur();
  }

  offer(() => [
    ...(filling
      ? [{ keys: ['Escape'], shown: 'Esc', label: 'leave it', run: leaveWanted, quiet: true }]
      : []),
    ...(listening?.actions(recording?.marks ?? []) ?? []),
    {
      keys: ['w'],
      shown: 'W',
      label: 'what you meant to play',
      run: () => field?.focus(),
      disabled: !recording,
    },
    {
      keys: ['c'],
      shown: 'C',
      label: nextOther ? `compare with ${nextOther.which}` : other ? 'alone again' : 'compare',
      run: () => void compare(nextOther?.id),
      disabled: !recording?.others.length,
      quiet: !recording?.others.length,
    },
    {
      keys: ['a'],
      shown: 'A',
      label: compared.plays ? 'hear this one' : 'hear the other',
      run: () => compared.swap(listening ?? undefined),
      disabled: !other?.listening.soundUrl,
      quiet: !other,
    },
    ...LEAVING,
  ]);
</script>

<View problem={opened.problem ?? compared.problem} retry={() => load(id)}>
  {#snippet ways()}<a class="act" href="#/takes">All takes</a>{/snippet}
  {#if opened.heard && recording && listening}
    <header>
      <h1>{recording.name}</h1>
      <p class="dim">
        {dayName(new Date(recording.started_at), new Date())}, {clock(recording.started_at)},
        {recording.instrument}, {recording.duration_words}, {recording.notes_words}
      </p>
      <SaveAs kept={listening.kept} name={recording.id} />
    </header>
    {#each recording.remarks as remark (remark)}<p>{remark}</p>{/each}
    <ListenBack
      {listening}
      frames={opened.heard.frames}
      marks={recording.marks}
      slots={recording.slots}
      range={[recording.lowest_cents, recording.highest_cents]}
      limitCents={0}
      cursorS={compared.cursorOf(listening)}
      under={compared.frames}
      name={other ? `The whole recording over ${other.page.name}` : 'The whole recording'}
    />
    {#if other && compared.comparison}
      <section aria-label="Compared with another recording">
        <p>
          In grey: <a class="underlined" href="#/recordings/{other.page.id}">{other.page.name}</a>,
          {dayName(new Date(other.page.started_at), new Date())}, {clock(other.page.started_at)},
          where the same is played.
          <span class="dim"
            >{compared.plays ? 'You hear it now.' : 'A plays it from this spot.'}</span
          >
        </p>
        <Sound listening={other.listening} />
        <ComparisonWords comparison={compared.comparison} onseek={(s) => listening.seek(s)} />
      </section>
    {:else if recording.others.length}
      <section class="pieces" aria-label="Compare with another recording">
        <p>
          <span><Key shown="C" />Compare with:</span>
          {#each recording.others as one (one.id)}
            <button class="act underlined" onclick={() => void compare(one.id)}>{one.which}</button>
          {/each}
        </p>
      </section>
    {/if}
    <div class="told">
      <div>
        <section aria-label="What you meant to play">
          <form onsubmit={keepWanted}>
            <label>
              {meant?.label}
              <Key shown="W" />
              <input
                bind:this={field}
                bind:value={wanted}
                onfocus={() => (filling = true)}
                onblur={() => (filling = false)}
                class="input"
                maxlength={meant?.longest}
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
                  <span class="dim">{note.off}</span>
                </li>
              {/each}
            </ol>
            {#each recording.pattern.sentences as sentence (sentence)}<p>{sentence}</p>{/each}
          {/if}
        </section>
        {#if own.value}
          <section class="pieces" aria-label="Follow a piece in it">
            <h2>Was it a piece?</h2>
            <p>
              Follow it bar by bar:
              {#each own.value as one (one.id)}
                {#if !one.refused}
                  <a class="underlined" href="#/own/{one.id}?recording={id}">{one.name}</a>
                {/if}
              {:else}
                bring one in as MusicXML or MIDI in the <a class="underlined" href="#/book">Book</a> and
                keep it, then it stands here.
              {/each}
            </p>
          </section>
        {/if}
      </div>
      {#if recording.notes.length}
        <div class="notes">
          <Numbers
            columns={['at', 'note', 'off', 'spread, cents', 'length', 'clearness']}
            rows={notes}
          >
            {#snippet row(note)}
              <td><Spot atS={note.at_s} onseek={(s) => listening.seek(s)} /></td>
              <td class="name"><NoteName name={note.name} /></td>
              <td>{note.off}</td>
              <td>{note.spread}</td>
              <td>{note.seconds.toFixed(2)} s</td>
              <td>{note.clearness} dB</td>
            {/snippet}
          </Numbers>
        </div>
      {:else}
        <p>No note was heard in it. Is the horn loud enough beside the room?</p>
      {/if}
    </div>
  {/if}
</View>

<style>
  header {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 0.4rem 1.6rem;
    padding-block: 1rem 0.8rem;
  }

  .pieces p {
    display: flex;
    flex-wrap: wrap;
    gap: 0 1.2rem;
  }

  .pieces h2 {
    font-size: 1.25rem;
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

  td.name {
    font-weight: 700;
  }

  @media (max-width: 760px) {
    .told {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
