<script lang="ts">
  import { onDestroy, untrack } from 'svelte';
  import { router } from 'svelte-spa-router';
  import { answer, api, problemOf, type Problem } from '../api/client';
  import Key from '../parts/Key.svelte';
  import LaterHolds from '../parts/LaterHolds.svelte';
  import ListenBack from './ListenBack.svelte';
  import SaveAs from './SaveAs.svelte';
  import Music from '../parts/Music.svelte';
  import NoteName from '../parts/NoteName.svelte';
  import NoteSpan from '../parts/NoteSpan.svelte';
  import Sound from './Sound.svelte';
  import VerdictWords from '../parts/VerdictWords.svelte';
  import View from '../parts/View.svelte';
  import { RibbonFrames } from '../ribbon/frames';
  import { offer } from '../parts/keys.svelte';
  import { LEAVING } from './listening.svelte';
  import { startOf } from './kept';
  import ComparisonWords from './ComparisonWords.svelte';
  import { Compared } from './compared.svelte';
  import { Opened } from './opened.svelte';
  import { overruleWords, turnRound } from './overrule';
  import { clock, dayName } from './days';

  let { params }: { params: { id: string } } = $props();

  const id = $derived(params.id);

  const askTake = (takeId: string) =>
    answer(api.GET('/api/takes/{take_id}', { params: { path: { take_id: takeId } } }));
  const opened = new Opened('takes', askTake);
  /** Another take of the same exercise, shown below with its cursor at the same place. */
  const compared = new Compared('takes', askTake);
  const mine = $derived(opened.heard);
  const other = $derived(compared.heard);
  /** What kept the player's own word from being kept. */
  let refused = $state.raw<Problem | null>(null);
  let shown = $state(false);

  const WORD_KEYS = ['q', 'w', 'e', 'r'];
  const take = $derived(mine?.page ?? null);
  /** What was measured stays back until the player has said how it sounded, or asks for it; where
   * there is nothing to hear, it is told at once. */
  const told = $derived(shown || take?.has_sound === false || (take?.rating ?? null) !== null);

  /** Drawn until the ear has spoken: the time, and nothing of the pitch. */
  const unheard = new RibbonFrames();

  const otherPlays = $derived(compared.plays);
  const cursorS = $derived(compared.cursorOf(mine?.listening));

  /** The one note there is. */
  const alone = $derived(take?.sheet.notes.length === 1 ? take.sheet.notes[0] : undefined);
  /** Which of the notes that were asked for is looked at: first the first that went wrong. */
  let noteAt = $state(0);
  const note = $derived(take?.notes[noteAt]);
  const outcomeOf = (step: number) =>
    take?.verdict.steps.find((one) => one.step === step)?.outcome ?? 'met';

  function lookAt(index: number) {
    noteAt = Math.max(0, Math.min((take?.notes.length ?? 1) - 1, index));
    const at = take?.notes[noteAt]?.start_s;
    if (at !== null && at !== undefined) mine?.listening.seek(at);
  }

  async function load(takeId: string) {
    compared.close();
    refused = null;
    shown = false;
    await opened.open(takeId, startOf(router.querystring));
    noteAt = Math.max(0, take?.notes.findIndex(({ step }) => outcomeOf(step) !== 'met') ?? 0);
  }

  $effect(() => {
    const wanted = id;
    untrack(() => void load(wanted));
  });
  onDestroy(() => {
    opened.close();
    compared.close();
  });

  const otherAt = $derived(take?.others.findIndex((one) => one.id === other?.page.id) ?? -1);
  const which = $derived(take?.others[otherAt]?.which ?? '');
  const nextOther = $derived(take?.others[otherAt + 1]);

  /** Shows the next of the takes worth comparing with, and after the last none. */
  async function compare() {
    if (mine && nextOther) {
      await compared.open(mine.listening.kept, mine.frames.end, nextOther.id);
    } else compared.close();
  }

  async function rate(rating: number) {
    if (!mine) return;
    try {
      const rated = await answer(
        api.PUT('/api/takes/{take_id}/rating', {
          params: { path: { take_id: mine.page.id } },
          body: { rating: rating as 0 | 1 | 2 | 3 },
        }),
      );
      opened.put({ ...mine.page, ...rated });
    } catch (error) {
      refused = problemOf(error);
    }
  }

  async function overrule() {
    if (!mine) return;
    try {
      opened.put({ ...mine.page, verdict: await turnRound(mine.page) });
    } catch (error) {
      refused = problemOf(error);
    }
  }

  offer(() => [
    ...(mine?.listening.actions(told ? mine.page.marks : []) ?? []),
    ...(told
      ? [
          {
            keys: ['j'],
            shown: 'J',
            label: 'next note',
            run: () => lookAt(noteAt + 1),
            disabled: (take?.notes.length ?? 0) < 2,
            quiet: true,
          },
          {
            keys: ['k'],
            shown: 'K',
            label: 'note before',
            run: () => lookAt(noteAt - 1),
            disabled: (take?.notes.length ?? 0) < 2,
            quiet: true,
          },
          {
            keys: ['c'],
            shown: 'C',
            label: nextOther ? `compare with the ${nextOther.which}` : 'alone again',
            run: () => void compare(),
            disabled: !take?.others.length,
          },
          {
            keys: ['a'],
            shown: 'A',
            label: otherPlays ? 'hear this one' : 'hear the other',
            run: () => compared.swap(mine?.listening),
            disabled: !other?.listening.soundUrl,
            quiet: !other,
          },
        ]
      : [
          ...(take?.rating_words ?? []).map((word, rating) => ({
            keys: [WORD_KEYS[rating] ?? ''],
            shown: (WORD_KEYS[rating] ?? '').toUpperCase(),
            label: `it was ${word}`,
            run: () => void rate(rating),
            quiet: true,
            disabled: !take,
          })),
          {
            keys: ['v'],
            shown: 'V',
            label: 'show what was measured',
            run: () => (shown = true),
            quiet: true,
            disabled: !take,
          },
        ]),
    {
      keys: ['o'],
      shown: 'O',
      label: overruleWords(take),
      run: () => void overrule(),
      disabled: !take,
    },
    ...LEAVING,
  ]);
</script>

<View problem={opened.problem ?? compared.problem ?? refused} retry={() => load(id)}>
  {#snippet ways()}<a class="act" href="#/takes">All takes</a>{/snippet}
  {#if mine && take}
    <header>
      <h1><NoteSpan span={take.span} /></h1>
      <p>
        {take.setting}{take.place && `, ${take.place}`}<br />
        <span class="dim">
          {dayName(new Date(take.started_at), new Date())}, {clock(take.started_at)},
          {take.origin}{#if alone}, {alone.hand.label}{/if}
        </span>
      </p>
      {#if take.has_sound}
        <SaveAs kept={mine.listening.kept} name="orexis-{take.id}" heard={told} />
      {:else}
        <p class="dim">What was measured of it is kept, its sound is not.</p>
      {/if}
    </header>
    {#if take.sheet.svg}
      <Music
        svg={take.sheet.svg}
        described={take.sheet.described}
        outcomes={told ? take.verdict.steps : []}
        at={told ? (note?.step ?? null) : null}
      />
    {/if}
    {#if take.frames.pitch_cents.length}
      <ListenBack
        listening={mine.listening}
        frames={told ? mine.frames : unheard}
        marks={told ? take.marks : []}
        slots={take.sheet.bands}
        limitCents={take.sheet.limit_cents}
        {cursorS}
        under={told ? compared.frames : null}
        name={other && told ? `The whole take over the ${which}` : 'The whole take'}
      />
    {/if}
    {#if other && told}
      <p class="which">
        In grey: the <strong>{which}</strong>,
        {dayName(new Date(other.page.started_at), new Date())}, {clock(other.page.started_at)}:
        {other.page.verdict.headline}
        <span class="dim">{otherPlays ? 'You hear it now.' : 'A plays it from here.'}</span>
      </p>
      <Sound listening={other.listening} />
      {#if compared.comparison}
        <ComparisonWords comparison={compared.comparison} onseek={(s) => mine.listening.seek(s)} />
      {/if}
    {/if}
    {#if !told}
      <div class="rate" role="group" aria-label="How was it?">
        <h2>How was it?</h2>
        <p>Listen, then say it before the meter does.</p>
        <div class="words">
          {#each take.rating_words as word, rating (word)}
            <button class="act-main" onclick={() => rate(rating)}>
              {word}<Key shown={(WORD_KEYS[rating] ?? '').toUpperCase()} />
            </button>
          {/each}
          <button class="act" onclick={() => (shown = true)}>
            <Key shown="V" />show what was measured
          </button>
        </div>
      </div>
    {:else}
      {#if take.rating !== null}
        <p class="own">{take.rating.words}</p>
      {/if}
      <div class="told">
        <div>
          <VerdictWords verdict={take.verdict} />
          {#if take.timing}<p class="tone">{take.timing}</p>{/if}
          {#if take.tone.sentence}<p class="tone">{take.tone.sentence}</p>{/if}
          {#if take.holds}<LaterHolds holds={take.holds} />{/if}
        </div>
        <div class="measured">
          {#if note && take.notes.length > 1}
            <p class="which-note">
              <button class="act" disabled={noteAt === 0} onclick={() => lookAt(noteAt - 1)}>
                <Key shown="K" />before
              </button>
              <strong><NoteName name={note.name} /></strong>
              <span class="dim">{noteAt + 1} of {take.notes.length}, {outcomeOf(note.step)}</span>
              <button
                class="act"
                disabled={noteAt === take.notes.length - 1}
                onclick={() => lookAt(noteAt + 1)}
              >
                <Key shown="J" />next
              </button>
            </p>
          {/if}
          <dl class="measures">
            {#each note?.measures ?? [] as measure (measure.label)}
              <div>
                <dt>{measure.label}</dt>
                <dd><strong>{measure.words}</strong> <span class="dim">{measure.unit}</span></dd>
                <dd class="dim meaning">{measure.meaning}</dd>
              </div>
            {:else}
              <p class="dim">Nothing was heard of it.</p>
            {/each}
          </dl>
        </div>
      </div>
    {/if}
  {/if}
</View>

<style>
  header {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.4rem 1.6rem;
    padding-block: 1rem 0.8rem;
  }

  header .act {
    margin-left: auto;
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }

  h1 {
    font-size: 4.5rem;
  }

  .which,
  .tone {
    font-size: 1.15rem;
  }

  .tone {
    margin-top: 0.6rem;
  }

  .rate {
    padding-block: 1rem;
  }

  .rate h2 {
    font-size: clamp(2.25rem, 5vw, 4rem);
  }

  .rate p,
  .own {
    font-size: 1.3rem;
  }

  .words {
    display: flex;
    flex-wrap: wrap;
    gap: 0.8rem 1.2rem;
    align-items: center;
    margin-top: 0.8rem;
  }

  .told {
    display: grid;
    grid-template-columns: minmax(0, 1.25fr) minmax(19rem, 1fr);
    gap: 2.6rem;
    padding-block: 0.8rem 1rem;
  }

  .measured {
    align-self: end;
  }

  .which-note {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 0.3rem 1rem;
    padding-bottom: 0.4rem;
  }

  .which-note strong {
    font-size: 2rem;
  }

  .measures div {
    display: grid;
    grid-template-columns: 6.5rem 9.5rem 1fr;
    gap: 0.8rem;
    align-items: baseline;
    border-top: 1px solid var(--line);
    padding-block: 0.2rem;
  }

  dt {
    color: var(--dim);
  }

  .meaning {
    font-size: 0.9375rem;
    line-height: 1.25;
  }

  @media (max-width: 760px) {
    .told {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
