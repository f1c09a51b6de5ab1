<script lang="ts">
  import { onDestroy } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, problemOf, type Problem, type TakeDetail } from '../api/client';
  import Foot from '../parts/Foot.svelte';
  import Key from '../parts/Key.svelte';
  import Notice from '../parts/Notice.svelte';
  import NoteName from '../parts/NoteName.svelte';
  import VerdictWords from '../parts/VerdictWords.svelte';
  import SlotView from '../ribbon/SlotView.svelte';
  import { RibbonFrames } from '../ribbon/frames';
  import { bringBack, deleteTake } from '../state/deletion';
  import { offer } from '../state/keys.svelte';
  import { clock, dayName } from './days';

  let { params }: { params: { id: string } } = $props();

  const id = $derived(params.id);

  const STEP_S = 0.5;

  let take = $state.raw<TakeDetail | null>(null);
  let problem = $state.raw<Problem | null>(null);
  let soundUrl = $state('');
  let audio = $state<HTMLAudioElement>();
  let playing = $state(false);
  let playAtOnce = $state(false);
  let cursorS = $state(0);
  let half = $state(false);
  /** A stretch to hear again and again, in seconds; open-ended while only its start is set. */
  let loop = $state<{ startS: number; endS: number | null } | null>(null);
  let shown = $state(false);

  const WORD_KEYS = ['q', 'w', 'e', 'r'];
  /** What was measured stays back until the player has said how it sounded, or asks for it. */
  const told = $derived(shown || (take?.rating ?? null) !== null);

  const frames = $derived.by(() => {
    const frames = new RibbonFrames();
    if (take) {
      const { first, cents, level_db, harmonicity_db } = take.frames;
      frames.put(first, cents, level_db, harmonicity_db);
    }
    return frames;
  });

  /** Drawn until the ear has spoken: the time, and nothing of the pitch. */
  const unheard = new RibbonFrames();

  const stretches = $derived(
    take
      ? [
          {
            from: 0,
            to: frames.end,
            label: '',
            pale: false,
            marks: (told ? take.marks : []).map((mark) => ({
              frame: Math.round(mark.at_s * 100),
              cents: mark.cents,
              words: mark.words,
            })),
          },
        ]
      : [],
  );

  async function load(takeId: string) {
    take = null;
    problem = null;
    shown = false;
    loop = null;
    try {
      take = await answer(
        api.GET('/api/takes/{take_id}', { params: { path: { take_id: takeId } } }),
      );
      const response = await fetch(`/api/takes/${takeId}/sound`);
      if (!response.ok) throw new Error('The sound of this take could not be fetched.');
      release();
      soundUrl = URL.createObjectURL(await response.blob());
    } catch (error) {
      problem = problemOf(error);
    }
  }

  $effect(() => void load(id));

  function release() {
    if (soundUrl) URL.revokeObjectURL(soundUrl);
  }
  onDestroy(release);

  // The cursor follows the sound's own clock at every picture.
  $effect(() => {
    if (!playing) return;
    let request = requestAnimationFrame(function follow() {
      cursorS = audio?.currentTime ?? 0;
      if (loop?.endS && cursorS >= loop.endS) seek(loop.startS);
      request = requestAnimationFrame(follow);
    });
    return () => cancelAnimationFrame(request);
  });

  // Half speed keeps the pitch: the browser stretches the sound.
  $effect(() => {
    if (!audio) return;
    audio.preservesPitch = true;
    audio.playbackRate = half ? 0.5 : 1;
  });

  function setLoop() {
    if (!loop) loop = { startS: cursorS, endS: null };
    else if (loop.endS === null && cursorS > loop.startS + 0.1) loop = { ...loop, endS: cursorS };
    else loop = null;
  }

  async function rate(rating: number) {
    if (!take) return;
    try {
      take = {
        ...take,
        ...(await answer(
          api.PUT('/api/takes/{take_id}/rating', {
            params: { path: { take_id: take.id } },
            body: { rating: rating as 0 | 1 | 2 | 3 },
          }),
        )),
      };
    } catch (error) {
      problem = problemOf(error);
    }
  }

  function toggle() {
    if (!audio) {
      // The sound is still on its way.
      playAtOnce = !playAtOnce;
      return;
    }
    // Leaving the page while it starts is no error.
    if (audio.paused) audio.play().catch(() => undefined);
    else audio.pause();
  }

  function seek(seconds: number) {
    if (!audio || !take) return;
    audio.currentTime = Math.max(0, Math.min(take.duration_s, seconds));
    cursorS = audio.currentTime;
  }

  async function overrule() {
    if (!take) return;
    const own = take.verdict.overruled_passed === null ? !take.verdict.passed : null;
    try {
      const changed = await answer(
        api.PUT('/api/takes/{take_id}/overrule', {
          params: { path: { take_id: take.id } },
          body: { passed: own },
        }),
      );
      take = { ...take, verdict: changed.verdict };
    } catch (error) {
      problem = problemOf(error);
    }
  }

  async function remove() {
    if (take && (await deleteTake(take.id, () => void push(`/takes/${id}`)))) void push('/takes');
  }

  offer(() => [
    {
      keys: [' '],
      shown: 'Space',
      label: playing ? 'pause' : 'play',
      run: toggle,
      disabled: !take,
    },
    {
      keys: ['ArrowLeft', 'PageUp'],
      shown: '←',
      label: 'back',
      run: () => seek(cursorS - STEP_S),
      disabled: !soundUrl,
    },
    {
      keys: ['ArrowRight', 'PageDown'],
      shown: '→',
      label: 'on',
      run: () => seek(cursorS + STEP_S),
      disabled: !soundUrl,
    },
    {
      keys: ['s'],
      shown: 'S',
      label: half ? 'full speed' : 'half speed',
      run: () => (half = !half),
      disabled: !soundUrl,
    },
    {
      keys: ['l'],
      shown: 'L',
      label: !loop ? 'loop from here' : loop.endS === null ? 'loop to here' : 'no loop',
      run: setLoop,
      disabled: !soundUrl,
    },
    ...(told
      ? []
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
      label: take?.verdict.overruled_passed == null ? 'overrule' : 'as the gate said',
      run: () => void overrule(),
      disabled: !take,
    },
    {
      keys: ['Delete', 'Backspace'],
      shown: 'Delete',
      label: 'delete',
      run: () => void remove(),
      disabled: !take,
    },
    { keys: ['z'], shown: 'Z', label: 'bring back', run: () => void bringBack(), quiet: true },
    { keys: ['Escape'], shown: 'Esc', label: 'all takes', run: () => void push('/takes') },
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
  {:else if take}
    <header>
      <h1><NoteName name={take.asked_name} /></h1>
      <p>
        {take.exercise}, hold {take.asked_hold_s} s, gate {take.gate_level}<br />
        <span class="dim">
          {dayName(new Date(take.started_at), new Date())}, {clock(take.started_at)},
          {take.source === 'microphone' ? 'microphone' : 'the stand-in player'}, {take.plan.hand}
        </span>
      </p>
      <a class="act" href="/api/takes/{take.id}/sound" download="orexis-{take.id}.flac">
        Save the sound (FLAC)
      </a>
    </header>
    <div class="ribbon">
      <SlotView
        slots={take.plan.slots}
        limitCents={take.plan.limit_cents}
        frames={told ? frames : unheard}
        {stretches}
        windowS={take.duration_s}
        {cursorS}
        label="The whole take: {(told ? take.marks : []).map((mark) => mark.words).join(', ') ||
          'nothing to point at'}"
        stretch={loop && { startS: loop.startS, endS: loop.endS ?? cursorS }}
        onseek={seek}
      />
    </div>
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
        <p class="own">
          You said: {take.rating.word}. The meter {take.rating.agrees
            ? 'agrees'
            : 'does not agree'}.
        </p>
      {/if}
      <div class="told">
        <VerdictWords verdict={take.verdict} />
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
    {#if soundUrl}
      <audio
        bind:this={audio}
        src={soundUrl}
        autoplay={playAtOnce}
        onplay={() => (playing = true)}
        onpause={() => (playing = false)}
        onended={() => (playing = false)}
      ></audio>
    {/if}
  {/if}
  <Foot />
</div>

<style>
  .view {
    display: flex;
    flex-direction: column;
    min-height: 100%;
    padding-inline: 1.9rem;
  }

  .whole {
    flex: 1;
    display: grid;
    align-content: center;
  }

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

  .ribbon {
    position: relative;
    flex: 1;
    min-height: 21rem;
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
    .view {
      padding-inline: 1rem;
    }

    .told {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
