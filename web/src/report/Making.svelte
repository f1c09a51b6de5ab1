<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, problemWords, sendBody, type Schemas } from '../api/client';
  import DateField from '../parts/DateField.svelte';
  import { fullDay } from '../parts/dates';
  import FileButton from '../parts/FileButton.svelte';
  import Key from '../parts/Key.svelte';
  import { offer } from '../parts/keys.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import View from '../parts/View.svelte';
  import { reportWordsKey } from '../players/kept';
  import { who } from '../players/who.svelte';
  import { iso, moved } from '../parts/calendar';
  import Report from './Report.svelte';
  import { takeKeys } from './takes';
  import { saveFile } from './words.svelte';

  /** Making a report of some weeks: what it covers, one's own words, and how it will be read. */
  const player_id = untrack(() => who.current.id);
  const today = iso(new Date());
  const KEY = reportWordsKey(player_id);

  /** The usual weeks, until others are chosen. */
  let first = $state('');
  let last = $state('');
  // What was written is still there when one comes back to it.
  let words = $state(localStorage.getItem(KEY) ?? '');
  $effect(() => localStorage.setItem(KEY, words));

  const asked = () => ({
    params: { path: { player_id } },
    body: { first: first || null, last: last || null, words },
  });
  const report = new Loaded<Schemas['ReportOut']>((signal) =>
    answer(api.POST('/api/players/{player_id}/report', { ...asked(), signal })),
  );
  const said = new Loaded<Schemas['WordsBackOut'][]>((signal) =>
    answer(
      api.GET('/api/players/{player_id}/words-back', { params: { path: { player_id } }, signal }),
    ),
  );
  async function load() {
    if (!(await report.load()) || !report.value) return;
    ({ first, last } = report.value);
  }
  void load();
  void said.load();

  let shown = $state<Report>();
  let field = $state<HTMLTextAreaElement>();
  let chooser = $state<FileButton>();
  let lines = $state.raw<string[]>([]);
  let saving = $state(false);

  function weeks(by: number) {
    if (!first) return;
    const next = moved(first, -7 * by);
    if (next >= last) return;
    first = next;
    void load();
  }

  async function save() {
    saving = true;
    lines = [];
    try {
      const zip = await answer(
        api.POST('/api/players/{player_id}/report/bundle', { ...asked(), parseAs: 'blob' }),
      );
      saveFile(zip as Blob, `orexis-report-${last.replaceAll('-', '')}.zip`);
    } catch (error) {
      lines = [problemWords(error)];
    }
    saving = false;
  }

  async function takeIn(file: File) {
    try {
      const kept = await sendBody<Schemas['WordsKept']>(
        `/api/players/${player_id}/words-back`,
        file,
      );
      lines = kept.lines;
      said.value = kept.all;
    } catch (error) {
      lines = [problemWords(error)];
    }
  }

  /** Out of the words first. */
  function leave() {
    if (document.activeElement === field) field?.blur();
    else void push('/progress/away');
  }

  offer(() => [
    { keys: ['+', '='], shown: '+', label: 'a week more', run: () => weeks(1) },
    { keys: ['-'], shown: '−', label: 'a week less', run: () => weeks(-1) },
    { keys: ['w'], shown: 'W', label: 'your words', run: () => field?.focus() },
    ...takeKeys(shown, report.value, true),
    { keys: ['i'], shown: 'I', label: 'print', run: () => window.print(), disabled: !report.value },
    {
      keys: ['s'],
      shown: 'S',
      label: 'save as one zip',
      run: () => void save(),
      disabled: !report.value || saving,
    },
    { keys: ['b'], shown: 'B', label: 'take words in', run: () => chooser?.open() },
    { keys: ['Escape'], shown: 'Esc', label: 'back', run: leave },
  ]);
</script>

<View wide problem={said.problem} retry={() => void said.load()}>
  <div class="making">
    <h1>Report for your teacher</h1>
    <div class="fields">
      <DateField label="From" max={last} bind:value={first} onchange={() => void load()} />
      <DateField label="to" max={today} bind:value={last} onchange={() => void load()} />
      <label class="words">
        Your own words, on top
        <textarea
          bind:this={field}
          bind:value={words}
          class="input"
          rows="2"
          maxlength={report.value?.room.words}></textarea>
      </label>
    </div>
    <p class="ways">
      <button class="act" disabled={!report.value} onclick={() => window.print()}>
        <Key shown="I" />print it
      </button>
      <button class="act" disabled={!report.value || saving} onclick={() => void save()}>
        <Key shown="S" />save it as one zip
      </button>
      <FileButton
        bind:this={chooser}
        label="Words that came back"
        accept=".json,application/json"
        onchoose={([file]) => file && void takeIn(file)}
      >
        <Key shown="B" />take in the words that came back
      </FileButton>
    </p>
    <p class="dim">
      The zip opens in any browser, without a network, and plays its takes; what your teacher says
      there comes back as a small file. Notes to yourself stay with you.
    </p>
    {#if report.problem}
      <p role="alert">{report.problem.title}. {report.problem.detail}</p>
    {/if}
    {#each lines as line, i (i)}<p role="status">{line}</p>{/each}
    {#if said.value?.length}
      <section aria-label="What was said">
        {#each said.value as one, i (i)}
          <blockquote>
            {#if one.words}<p>{one.words}</p>{/if}
            <p class="dim">{one.said_by}, {fullDay(new Date(one.arrived_at))}</p>
          </blockquote>
        {/each}
      </section>
    {/if}
  </div>
  <div class="content">
    {#if report.value}
      <Report
        bind:this={shown}
        report={report.value}
        {words}
        soundOf={(id) => `/api/takes/${id}/sound`}
      />
    {/if}
  </div>
</View>

<style>
  .making {
    border-bottom: 1px solid var(--line);
    padding-bottom: 1rem;
    margin-bottom: 1.4rem;
  }

  h1 {
    font-size: clamp(1.8rem, 3.6vw, 2.6rem);
    padding-block: 1.2rem 0.6rem;
  }

  .content {
    flex: 1;
  }

  .fields,
  .ways {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem 1.4rem;
  }

  .words {
    flex: 1;
    min-width: min(24rem, 100%);
  }

  blockquote {
    border-left: 3px solid var(--low);
    padding-left: 1rem;
    margin-top: 0.8rem;
    max-width: 46rem;
    overflow-wrap: anywhere;
  }

  @media print {
    .making {
      display: none;
    }
  }
</style>
