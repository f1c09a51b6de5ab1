<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { problemOf, sendBody, type Problem, type Schemas } from '../api/client';
  import FileButton from '../parts/FileButton.svelte';
  import Key from '../parts/Key.svelte';
  import { offer } from '../parts/keys.svelte';
  import { upDown } from '../parts/updown';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';

  /** What comes in from files of other programs: seen row by row first, then kept. */
  const player_id = untrack(() => who.current.id);
  const KINDS = [
    {
      what: 'log',
      name: 'A practice log',
      words:
        'CSV with the columns date, minutes and words, such as: 2026-11-27,45,long tones. It stands in your days; the coach counts only what it heard.',
      accept: '.csv,text/csv,text/plain',
    },
    {
      what: 'concerts',
      name: 'Concerts',
      words: 'A calendar (iCalendar, .ics), every date in it a concert to look ahead to.',
      accept: '.ics,text/calendar',
    },
    {
      what: 'rehearsals',
      name: 'Rehearsals',
      words: 'A calendar (iCalendar, .ics), every date in it a rehearsal.',
      accept: '.ics,text/calendar',
    },
    {
      what: 'own',
      name: 'Exercises',
      words: 'Those somebody keeps under names, as Orexis saved them (JSON).',
      accept: '.json,application/json',
    },
  ] as const;

  let at = $state(0);
  let chooser = $state<FileButton>();
  let file: File | null = null;
  let found = $state.raw<Schemas['IncomingOut'] | null>(null);
  let problem = $state.raw<Problem | null>(null);
  const kind = $derived(KINDS[at] ?? KINDS[0]);

  async function read(chosen: File | null, keep: boolean) {
    file = chosen;
    problem = null;
    if (!file) return;
    try {
      const address = `/api/players/${player_id}/incoming/${kind.what}?keep=${keep}`;
      found = await sendBody<Schemas['IncomingOut']>(address, file);
    } catch (error) {
      found = null;
      problem = problemOf(error);
    }
  }

  function go(by: number) {
    at = Math.min(Math.max(at + by, 0), KINDS.length - 1);
    leave();
  }

  function leave() {
    found = null;
    problem = null;
    file = null;
  }

  const refused = $derived(found?.rows.filter((row) => row.refused).length ?? 0);
  const open = $derived(found !== null && !found.kept);
  offer(() => [
    ...upDown(go, 'before', 'next'),
    { keys: ['o'], shown: 'O', label: 'choose a file', run: () => chooser?.open() },
    {
      keys: ['Enter'],
      shown: 'Enter',
      label: found ? `keep ${found.good}` : 'keep them',
      run: () => void read(file, true),
      disabled: !open || !found?.good,
    },
    {
      keys: ['Escape'],
      shown: 'Esc',
      label: open ? 'leave it' : 'back',
      run: () => (open ? leave() : void push('/progress/away')),
    },
  ]);
</script>

<View wide>
  <h1>Bring something in</h1>
  <div class="content">
    <ul aria-label="What comes in">
      {#each KINDS as one, i (one.what)}
        <li>
          <button aria-pressed={i === at} onclick={() => go(i - at)}>
            <strong>{one.name}</strong>
            <span class="dim">{one.words}</span>
          </button>
        </li>
      {/each}
    </ul>
    <section aria-label="The file">
      <p class="ways">
        <FileButton
          bind:this={chooser}
          label="{kind.name} to bring in"
          accept={kind.accept}
          onchoose={([chosen]) => void read(chosen ?? null, false)}
        >
          <Key shown="O" />choose the file
        </FileButton>
      </p>
      {#if problem}<p role="alert">{problem.title}. {problem.detail}</p>{/if}
      {#if found}
        <div role="status">
          <h2>
            {#if found.kept}
              {found.good} kept.
            {:else if found.good}
              {found.good} of {found.rows.length} can be kept.
            {:else}
              Nothing in it can be kept.
            {/if}
          </h2>
        </div>
        {#if open}
          <p class="ways">
            <button class="act-main" disabled={!found.good} onclick={() => void read(file, true)}>
              Keep {found.good}<Key shown="Enter" />
            </button>
            <button class="act" onclick={leave}><Key shown="Esc" />leave it</button>
          </p>
        {/if}
        {#if refused}<p class="dim">{refused} refused, each with its reason:</p>{/if}
        <table>
          <thead>
            <tr><th scope="col">where</th><th scope="col">what it says</th><th scope="col"></th></tr
            >
          </thead>
          <tbody>
            {#each [...found.rows].sort((a, b) => Number(!a.refused) - Number(!b.refused)) as row (row.place)}
              <tr>
                <td class="dim">{row.place}</td>
                <td>{row.said}</td>
                <td class:refused={row.refused}>{row.refused || (found.kept ? 'kept' : 'good')}</td>
              </tr>
            {/each}
          </tbody>
        </table>
      {/if}
    </section>
  </div>
</View>

<style>
  h1 {
    font-size: clamp(2.2rem, 4.4vw, 3.4rem);
    padding-block: 1.2rem 0.8rem;
  }

  h2 {
    font-size: 1.6rem;
    padding-block: 0.6rem;
  }

  .content {
    flex: 1;
    display: grid;
    grid-template-columns: minmax(16rem, 24rem) minmax(0, 1fr);
    gap: 2.4rem;
    align-items: start;
  }

  li button {
    display: grid;
    width: 100%;
    text-align: left;
    padding: 0.6rem 0.8rem;
    border-bottom: 1px solid var(--line);
    border-left: 3px solid transparent;
    cursor: pointer;
  }

  li button[aria-pressed='true'] {
    border-left-color: var(--sound);
  }

  strong {
    font-size: 1.25rem;
  }

  .ways {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.4rem 1.2rem;
    font-size: 1.15rem;
  }

  table {
    width: 100%;
    border-collapse: collapse;
    margin-top: 0.6rem;
  }

  th {
    text-align: left;
    color: var(--dim);
    font-weight: 400;
  }

  td,
  th {
    border-bottom: 1px solid var(--line);
    padding: 0.35rem 0.8rem 0.35rem 0;
    vertical-align: top;
    overflow-wrap: anywhere;
  }

  th,
  td:first-child {
    white-space: nowrap;
  }

  .refused {
    color: var(--high);
  }

  @media (max-width: 900px) {
    .content {
      grid-template-columns: minmax(0, 1fr);
      gap: 1rem;
    }
  }
</style>
