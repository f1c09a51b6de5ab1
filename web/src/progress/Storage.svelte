<script lang="ts">
  import { push } from 'svelte-spa-router';
  import { answer, api, problemWords, type Schemas } from '../api/client';
  import { fullDay } from '../parts/dates';
  import Dialog from '../parts/Dialog.svelte';
  import Key from '../parts/Key.svelte';
  import { offer } from '../parts/keys.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import { upDown } from '../parts/updown';
  import View from '../parts/View.svelte';

  /** Where everything is kept, what takes the room, and letting go of the sound of old takes. */
  const storage = new Loaded<Schemas['StorageOut']>((signal) =>
    answer(api.GET('/api/storage', { signal })),
  );
  void storage.load();

  let at = $state(0);
  let asking = $state(false);
  let said = $state('');
  const found = $derived(storage.value);
  const old = $derived(found?.old[at]);

  const UNITS = ['B', 'kB', 'MB', 'GB'];
  function room(bytes: number): string {
    const step = Math.min(Math.floor(Math.log10(Math.max(bytes, 1)) / 3), UNITS.length - 1);
    const value = bytes / 1000 ** step;
    return `${value.toFixed(step && value < 10 ? 1 : 0)} ${UNITS[step]}`;
  }

  function go(by: number) {
    at = Math.min(Math.max(at + by, 0), Math.max((found?.old.length ?? 0) - 1, 0));
  }

  async function letGo() {
    asking = false;
    if (!old) return;
    const { takes } = old;
    try {
      storage.value = await answer(api.POST('/api/storage/let-go', { body: { days: old.days } }));
      said = `The sound of ${takes} ${takes === 1 ? 'take' : 'takes'} is gone; every measure is kept.`;
    } catch (error) {
      said = problemWords(error);
    }
  }

  offer(() => [
    ...upDown(go, 'newer', 'older'),
    {
      keys: ['l'],
      shown: 'L',
      label: 'delete old sound',
      run: () => (asking = true),
      disabled: !old?.takes,
    },
    { keys: ['Escape'], shown: 'Esc', label: 'back', run: () => void push('/progress/away') },
  ]);
</script>

<View wide problem={storage.problem} retry={() => void storage.load()}>
  {#if found}
    <h1>{room(found.size)} on this computer</h1>
    <p class="dim lead">Everybody’s practice is in one file: <code>{found.path}</code></p>
    <div class="content">
      <section aria-label="What takes the room">
        <h2>What takes the room</h2>
        <dl>
          {#each found.parts as part (part.name)}
            <div>
              <dt>{part.name}</dt>
              <dd>{room(part.size)}</dd>
              <dd class="bar" aria-hidden="true">
                <span style:width="{(100 * part.size) / Math.max(found.size, 1)}%"></span>
              </dd>
            </div>
          {/each}
        </dl>
        <h2>What can be deleted</h2>
        <p class="dim">
          The sound of old takes, for all players, but for takes with a bookmark. Their measures,
          verdicts and ribbons stay.
        </p>
        {#if said}<p role="status">{said}</p>{/if}
        <ul>
          {#each found.old as one, i (one.days)}
            <li>
              <button aria-pressed={i === at} onclick={() => (at = i)}>
                older than {one.words}
                <span class="dim">
                  {one.takes
                    ? `${one.takes} ${one.takes === 1 ? 'take' : 'takes'}, ${room(one.size)}`
                    : 'nothing'}
                </span>
              </button>
            </li>
          {/each}
        </ul>
        <button class="act" disabled={!old?.takes} onclick={() => (asking = true)}>
          <Key shown="L" />delete it…
        </button>
      </section>
      <section aria-label="Copies">
        <h2>Copies</h2>
        <p class="dim">
          Orexis keeps one a day and one before each new version, the newest seven, in
          <code>{found.copies_folder}</code>
        </p>
        <ul>
          {#each found.copies as copy (copy.name)}
            <li class="copy">
              {fullDay(new Date(copy.at))} <span class="dim">{copy.name}, {room(copy.size)}</span>
            </li>
          {:else}
            <li class="copy dim">None yet; the first comes with the next start of orexis serve.</li>
          {/each}
        </ul>
        <p class="dim">
          A copy of your own: <code>orexis backup FILE</code>. Putting one back:
          <code>orexis restore FILE</code>. Looking everything through: <code>orexis check</code>.
        </p>
      </section>
    </div>
  {/if}
</View>

<Dialog bind:open={asking} title="Delete old sound?">
  {#if old}
    <p>
      The sound of {old.takes}
      {old.takes === 1 ? 'take' : 'takes'} older than {old.words} goes, {room(old.size)}. It cannot
      be brought back, but for copies of the file that still have it.
    </p>
    <button class="act-main" onclick={() => void letGo()}>Delete it<Key shown="Enter" /></button>
  {/if}
</Dialog>

<style>
  h1 {
    font-size: clamp(2.2rem, 4.4vw, 3.4rem);
    padding-block: 1.2rem 0.2rem;
  }

  h2 {
    font-size: 1.5rem;
    padding-block: 1rem 0.3rem;
  }

  .lead {
    font-size: 1.15rem;
  }

  code {
    overflow-wrap: anywhere;
  }

  .content {
    flex: 1;
    display: grid;
    grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr);
    gap: 2.4rem;
    align-items: start;
  }

  dl div {
    display: grid;
    grid-template-columns: 1fr 5.5rem 8rem;
    gap: 1rem;
    align-items: center;
    border-top: 1px solid var(--line);
    padding-block: 0.3rem;
  }

  dd {
    text-align: right;
    font-weight: 700;
  }

  .bar {
    height: 0.7rem;
    background: var(--line);
  }

  .bar span {
    display: block;
    height: 100%;
    background: var(--sound);
  }

  li button {
    display: flex;
    flex-wrap: wrap;
    justify-content: space-between;
    gap: 0 1rem;
    width: 100%;
    min-height: 2.6rem;
    align-items: center;
    text-align: left;
    padding-inline: 0.8rem;
    border-bottom: 1px solid var(--line);
    border-left: 3px solid transparent;
    cursor: pointer;
  }

  li button[aria-pressed='true'] {
    border-left-color: var(--sound);
  }

  .copy {
    border-top: 1px solid var(--line);
    padding-block: 0.4rem;
    overflow-wrap: anywhere;
  }

  @media (max-width: 900px) {
    .content {
      grid-template-columns: minmax(0, 1fr);
      gap: 0.6rem;
    }

    dl div {
      grid-template-columns: 1fr 5rem 4rem;
    }
  }
</style>
