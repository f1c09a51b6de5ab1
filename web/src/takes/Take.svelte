<script lang="ts">
  import { onDestroy, untrack } from 'svelte';
  import { answer, api, problemOf, type Problem } from '../api/client';
  import Key from '../parts/Key.svelte';
  import ListenBack from './ListenBack.svelte';
  import NoteName from '../parts/NoteName.svelte';
  import Sound from './Sound.svelte';
  import VerdictWords from '../parts/VerdictWords.svelte';
  import View from '../parts/View.svelte';
  import SlotView from '../ribbon/SlotView.svelte';
  import { markWords, RibbonFrames, wholeOf } from '../ribbon/frames';
  import { offer } from '../parts/keys.svelte';
  import { LEAVING } from './listening.svelte';
  import { Opened } from './opened.svelte';
  import { soundPath } from './kept';
  import { overruleWords, turnRound } from './overrule';
  import { clock, dayName } from './days';

  let { params }: { params: { id: string } } = $props();

  const id = $derived(params.id);

  const askTake = (takeId: string) =>
    answer(api.GET('/api/takes/{take_id}', { params: { path: { take_id: takeId } } }));
  const opened = new Opened('takes', askTake);
  /** Another take of the same exercise, shown below with its cursor at the same place. */
  const compared = new Opened('takes', askTake);
  const mine = $derived(opened.heard);
  const other = $derived(compared.heard);
  /** What kept the player's own word from being kept. */
  let refused = $state.raw<Problem | null>(null);
  let shown = $state(false);

  const WORD_KEYS = ['q', 'w', 'e', 'r'];
  const take = $derived(mine?.page ?? null);
  /** What was measured stays back until the player has said how it sounded, or asks for it. */
  const told = $derived(shown || (take?.rating ?? null) !== null);

  /** Drawn until the ear has spoken: the time, and nothing of the pitch. */
  const unheard = new RibbonFrames();

  const shiftS = $derived(take && other ? other.page.note_start_s - take.note_start_s : 0);
  const otherPlays = $derived(other?.listening.playing ?? false);
  const cursorS = $derived(
    other && otherPlays ? other.listening.cursorS - shiftS : (mine?.listening.cursorS ?? 0),
  );

  async function load(takeId: string) {
    compared.close();
    refused = null;
    shown = false;
    await opened.open(takeId);
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
    if (nextOther) await compared.open(nextOther.id);
    else compared.close();
  }

  /** Plays on in the other take from the same place, or back in this one. */
  function swapEars() {
    if (!mine || !other) return;
    const [from, to, shift] = otherPlays
      ? [other.listening, mine.listening, -shiftS]
      : [mine.listening, other.listening, shiftS];
    from.audio?.pause();
    to.half = from.half;
    to.seek(from.cursorS + shift);
    to.toggle();
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
            run: swapEars,
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
      <h1><NoteName name={take.asked_name} /></h1>
      <p>
        {take.setting}<br />
        <span class="dim">
          {dayName(new Date(take.started_at), new Date())}, {clock(take.started_at)},
          {take.origin}, {take.plan.hand}
        </span>
      </p>
      <a class="act" href={soundPath(mine.listening.kept)} download="orexis-{take.id}.flac">
        Save the sound (FLAC)
      </a>
    </header>
    <ListenBack
      listening={mine.listening}
      frames={told ? mine.frames : unheard}
      marks={told ? take.marks : []}
      slots={take.plan.slots}
      limitCents={take.plan.limit_cents}
      {cursorS}
      name="The whole take"
    />
    {#if other && told}
      <div class="other">
        <SlotView
          slots={other.page.plan.slots}
          limitCents={take.plan.limit_cents}
          frames={other.frames}
          stretches={[wholeOf(other.frames, other.page.marks)]}
          windowS={mine.listening.windowS}
          fromS={mine.listening.fromS + shiftS}
          cursorS={cursorS + shiftS}
          label="The {which}: {markWords(other.page.marks) || 'nothing to point at'}"
        />
      </div>
      <p class="which">
        Below: the <strong>{which}</strong>,
        {dayName(new Date(other.page.started_at), new Date())}, {clock(other.page.started_at)}:
        {other.page.verdict.headline}
        <span class="dim">{otherPlays ? 'You hear it now.' : 'A plays it from here.'}</span>
      </p>
      <Sound listening={other.listening} />
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
          <p class="tone">{take.tone.sentence}</p>
        </div>
        <dl class="measures">
          {#each take.measures as measure (measure.label)}
            <div>
              <dt>{measure.label}</dt>
              <dd><strong>{measure.words}</strong> <span class="dim">{measure.unit}</span></dd>
              <dd class="dim meaning">{measure.meaning}</dd>
            </div>
          {/each}
        </dl>
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

  .other {
    position: relative;
    flex: 1;
    min-height: 15rem;
    border-top: 1px solid var(--line);
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

  .measures {
    align-self: end;
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
