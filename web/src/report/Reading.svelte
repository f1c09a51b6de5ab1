<script lang="ts">
  import type { Schemas } from '../api/client';
  import Key from '../parts/Key.svelte';
  import { offer, type Action } from '../parts/keys.svelte';
  import Report from './Report.svelte';
  import { takeKeys } from './takes';
  import { saveFile, Saying } from './words.svelte';

  /** Somebody's report, read by who may say something of it. */
  interface Props {
    report: Schemas['ReportOut'];
    soundOf: (takeId: string) => string;
    /** What else the keys do. */
    more?: Action[];
  }

  let { report, soundOf, more = [] }: Props = $props();

  const saying = new Saying();
  let shown = $state<Report>();
  let name = $state<HTMLInputElement>();
  let field = $state<HTMLInputElement>();
  /** Where a bookmark is being put, and what it says. */
  let bookmarking = $state.raw<{ takeId: string; atS: number } | null>(null);
  let bookmarkWords = $state('');

  function bookmark() {
    bookmarking = shown?.here() ?? null;
    bookmarkWords = '';
    if (bookmarking) setTimeout(() => field?.focus());
  }

  function keepBookmark(event: SubmitEvent) {
    event.preventDefault();
    if (bookmarking && bookmarkWords.trim())
      saying.bookmark(bookmarking.takeId, bookmarking.atS, bookmarkWords);
    bookmarking = null;
  }

  function save() {
    const content = JSON.stringify(saying.document(), null, 1);
    saveFile(new Blob([content], { type: 'application/json' }), 'orexis-words.json');
  }

  const takes = $derived(report.best.length + report.worst.length);
  offer(() => [
    ...takeKeys(shown, report),
    { keys: ['n'], shown: 'N', label: 'bookmark this spot', run: bookmark, disabled: !takes },
    { keys: ['w'], shown: 'W', label: 'say something', run: () => name?.focus() },
    { keys: ['s'], shown: 'S', label: 'save what you say', run: save, disabled: !saying.whole },
    { keys: ['i'], shown: 'I', label: 'print', run: () => window.print() },
    {
      keys: ['Escape'],
      shown: 'Esc',
      label: 'no bookmark',
      run: () => (bookmarking = null),
      disabled: !bookmarking,
      quiet: true,
    },
    ...more,
  ]);
</script>

<Report
  bind:this={shown}
  {report}
  {soundOf}
  marks={saying.marks}
  onremove={(mark) => saying.removeBookmark(mark)}
/>
{#if bookmarking}
  <form class="bookmarking" onsubmit={keepBookmark} aria-label="A bookmark">
    <label>
      What is at {bookmarking.atS.toFixed(2)} s?
      <input
        bind:this={field}
        bind:value={bookmarkWords}
        class="input"
        maxlength={report.room.bookmark}
      />
    </label>
    <button class="act-main">Keep<Key shown="Enter" /></button>
    <button class="act" type="button" onclick={() => (bookmarking = null)}>
      <Key shown="Esc" />no bookmark
    </button>
  </form>
{/if}
<section class="saying" aria-label="What you say of it">
  <h2>What do you say of it?</h2>
  <p class="dim">
    It is saved as a small file for {report.player} to take in: your words, and your bookmarks at their
    spots.
  </p>
  <label>
    Your name
    <input
      bind:this={name}
      bind:value={saying.saidBy}
      class="input"
      maxlength={report.room.said_by}
      autocomplete="name"
    />
  </label>
  <label>
    Your words
    <textarea bind:value={saying.words} class="input" rows="5" maxlength={report.room.words}
    ></textarea>
  </label>
  <button class="act-main" disabled={!saying.whole} onclick={save}>
    Save what you say<Key shown="S" />
  </button>
</section>

<style>
  .bookmarking {
    position: sticky;
    bottom: 3.4rem;
    display: flex;
    flex-wrap: wrap;
    align-items: end;
    gap: 0.8rem;
    padding-block: 0.6rem;
    background: var(--paper);
    border-top: 1px solid var(--line);
  }

  .bookmarking label {
    flex: 1;
    min-width: 16rem;
  }

  .saying {
    display: grid;
    gap: 0.9rem;
    justify-items: start;
    max-width: 46rem;
    padding-block: 1.6rem;
  }

  .saying label {
    width: 100%;
  }

  h2 {
    font-size: 1.9rem;
  }

  @media print {
    .bookmarking,
    .saying {
      display: none;
    }
  }
</style>
