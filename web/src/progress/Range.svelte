<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { onDestroy, untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, type Schemas } from '../api/client';
  import Key from '../parts/Key.svelte';
  import { offer } from '../parts/keys.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import NoteName from '../parts/NoteName.svelte';
  import Notice from '../parts/Notice.svelte';
  import Numbers from '../parts/Numbers.svelte';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';
  import { dayOf, shortDay } from './days';
  import NoteDays from './NoteDays.svelte';
  import { Replay } from './replay.svelte';
  import { height, landmarks, named, tube, type RangeNote, type RangeRow } from './tubes';

  /** How far the player comes: a tube for each week, and what became of each note. */
  const player_id = untrack(() => who.current.id);
  const range = new Loaded<Schemas['RangeOut']>((signal) =>
    answer(api.GET('/api/players/{player_id}/range', { params: { path: { player_id } }, signal })),
  );
  const page = new Loaded<Schemas['NotePageOut']>((signal) =>
    answer(
      api.GET('/api/players/{player_id}/range/{midi}', {
        params: { path: { player_id, midi } },
        signal,
      }),
    ),
  );
  const replay = new Replay();
  onDestroy(() => replay.stop());

  let midi = $state(0);
  let onMouthpiece = $state(false);
  let asTable = $state(false);
  let width = $state(1000);

  const found = $derived(range.value);
  const notes = $derived(found?.notes ?? []);
  const told = $derived(onMouthpiece ? found?.buzz : found?.horn);
  const rows = $derived(told?.rows ?? []);
  const note = $derived(notes.find((one) => one.midi === midi));
  const shown = $derived(page.value?.note.midi === midi ? page.value : null);

  const LABELS = $derived(width < 560 ? 62 : 118);
  const ROW = $derived(width < 560 ? 26 : rows.length > 10 ? 36 : 40);
  const MARKS = 34;
  const FOOT = 44;
  const tall = $derived(rows.length * ROW + 10);
  const x = $derived(
    scaleLinear(
      [(notes.at(-1)?.midi ?? 40) - 0.6, (notes[0]?.midi ?? 80) + 0.6],
      [LABELS + 8, width - 4],
    ),
  );
  const pedals = $derived(notes.filter(({ part }) => part !== 'range'));

  async function load() {
    if (!(await range.load()) || !range.value) return;
    const { notes } = range.value;
    const highest = (...wanted: RangeNote['standing'][]) =>
      notes.find((one) => wanted.includes(one.standing));
    const first = highest('secure') ?? highest('held') ?? highest('touched', 'faded') ?? notes[0];
    if (first) choose(first.midi);
  }
  void load();

  function choose(next: number) {
    if (!notes.some((one) => one.midi === next)) return;
    midi = next;
    replay.stop();
    void page.load();
  }

  function pick(event: MouseEvent) {
    const box = (event.currentTarget as SVGElement).getBoundingClientRect();
    choose(Math.round(x.invert(((event.clientX - box.left) / box.width) * width)));
  }

  const hear = $derived(
    (
      [
        ['f', 'first'],
        ['b', 'best'],
        ['l', 'last'],
      ] as const
    ).map(([key, what]) => ({ key, what, take: shown?.[what] ?? null })),
  );

  function play(take: Schemas['HeardOut'] | null) {
    if (take) void replay.toggle(take.take_id);
  }

  const day = (at: string) => shortDay(new Date(at));
  const name = (of: number) => notes.find((one) => one.midi === of)?.name ?? `${of}`;
  const between = (low: number | null, high: number | null) =>
    low === null || high === null
      ? '–'
      : low === high
        ? name(low)
        : `${name(low)} to ${name(high)}`;
  const spoken = (row: RangeRow) =>
    row.parts
      .map(
        ({ part, bottom, top }) =>
          `${part === 'range' ? '' : `${part} `}reached ${between(bottom.reached, top.reached)}`,
      )
      .join(', ') || 'no practice';

  offer(() => [
    {
      keys: ['ArrowLeft', 'PageUp'],
      shown: '←',
      label: 'lower',
      run: () => choose(midi - 1),
      disabled: !note,
    },
    {
      keys: ['ArrowRight', 'PageDown'],
      shown: '→',
      label: 'higher',
      run: () => choose(midi + 1),
      disabled: !note,
    },
    {
      keys: ['m'],
      shown: 'M',
      label: onMouthpiece ? 'horn' : 'mouthpiece',
      run: () => (onMouthpiece = !onMouthpiece),
      disabled: !found?.buzz.rows.length,
    },
    {
      keys: ['t'],
      shown: 'T',
      label: asTable ? 'as a picture' : 'as a table',
      run: () => (asTable = !asTable),
      disabled: !found,
    },
    { keys: ['c'], shown: 'C', label: 'changes', run: () => void push('/progress/changes') },
    { keys: ['y'], shown: 'Y', label: 'days', run: () => void push('/progress/days') },
    {
      keys: ['x'],
      shown: 'X',
      label: 'carry it elsewhere',
      run: () => void push('/progress/away'),
    },
    ...hear.map(({ key, what, take }) => ({
      keys: [key],
      shown: key.toUpperCase(),
      label: `hear the ${what}`,
      run: () => play(take),
      disabled: !take,
      quiet: true,
    })),
    {
      keys: ['Enter'],
      shown: 'Enter',
      label: 'open the last take',
      run: () => void push(`/takes/${shown?.last?.take_id}`),
      disabled: !shown?.last,
      quiet: true,
    },
  ]);
</script>

<View wide problem={range.problem} retry={() => void load()}>
  {#if found && !found.horn.rows.length && !found.buzz.rows.length}
    <Notice
      title="Nothing to see of your range yet"
      detail="Every note you play on the Stand counts here: how far you come by the week, and how each half step of your horn stands."
    >
      <a class="act-main" href="#/stand">Go to the Stand</a>
    </Notice>
  {:else if told}
    <h1>{told.headline}</h1>
    <p class="lead dim">{onMouthpiece ? 'On the mouthpiece alone. ' : ''}{told.words}</p>
    {#if asTable}
      <div class="tables">
        <Numbers
          columns={['week of', 'part', 'secure', 'held', 'reached']}
          rows={rows.flatMap((row) => row.parts.map((span) => ({ row, span })))}
        >
          {#snippet row({ row, span })}
            <td>{named(row)}</td>
            <td>{span.part}</td>
            <td>{between(span.bottom.secure, span.top.secure)}</td>
            <td>{between(span.bottom.held, span.top.held)}</td>
            <td>{between(span.bottom.reached, span.top.reached)}</td>
          {/snippet}
        </Numbers>
        {#if shown}
          <Numbers
            columns={[
              `${shown.note.name} on`,
              'spoke',
              'held, s',
              'centre, cents',
              'steady, ± cents',
              'response, ms',
              'clear, dB',
            ]}
            rows={[...shown.days].reverse()}
          >
            {#snippet row(one)}
              <td>{shortDay(dayOf(one.on))}</td>
              <td>{one.spoke} of {one.asked}</td>
              <td>{one.held_s.toFixed(1)}</td>
              <td>{one.centre_cents?.toFixed(0) ?? '–'}</td>
              <td>{one.spread_cents?.toFixed(0) ?? '–'}</td>
              <td>{one.rise_s === null ? '–' : (1000 * one.rise_s).toFixed(0)}</td>
              <td>{one.harmonicity_db?.toFixed(0) ?? '–'}</td>
            {/snippet}
          </Numbers>
        {/if}
      </div>
    {:else}
      <div class="picture" bind:clientWidth={width}>
        <!-- The keys below choose the same notes. -->
        <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_noninteractive_element_interactions -->
        <svg
          role="img"
          aria-label="{told.headline} {rows
            .map((row) => `${named(row)}: ${spoken(row)}`)
            .join('; ')}"
          viewBox="0 0 {width} {tall + MARKS + FOOT}"
          height={tall + MARKS + FOOT}
          onclick={pick}
        >
          {#each landmarks(notes) as mark (mark.midi)}
            <line class="scale" x1={x(mark.midi)} x2={x(mark.midi)} y1="0" y2={tall + MARKS} />
          {/each}
          {#if note}
            <line class="here" x1={x(midi)} x2={x(midi)} y1="0" y2={tall + MARKS} />
          {/if}
          {#if pedals.length}
            {@const edge = x((pedals[0]?.midi ?? 0) + 0.5)}
            <line class="edge" x1={edge} x2={edge} y1="0" y2={tall + MARKS} />
            <text class="part" x={edge + 4} y={tall + MARKS + 37} text-anchor="end">pedals</text>
          {/if}
          {#each rows as row, i (row.monday)}
            {@const middle = i * ROW + ROW / 2 + 4}
            <text
              class="week"
              class:now={i === rows.length - 1}
              x={LABELS}
              y={middle + 5}
              text-anchor="end"
            >
              {width < 560 ? named({ ...row, weeks: 1 }) : named(row)}
            </text>
            {#if !row.played}
              <text class="week" x={LABELS + 20} y={middle + 5}>no practice</text>
            {/if}
            <g
              class="tube"
              class:now={i === rows.length - 1}
              style:opacity={i === rows.length - 1 ? 1 : 0.35 + (0.45 * i) / rows.length}
              transform="translate(0 {middle})"
            >
              {#each row.parts as span (span.part)}
                <path d={tube(span, x, ROW)} />
              {/each}
            </g>
          {/each}
          {#each notes as one (one.midi)}
            {@const up = height(one.standing) * (MARKS - 12)}
            {#if up}
              <rect
                class="mark {one.standing}"
                class:here={one.midi === midi}
                x={x(one.midi - 0.36)}
                width={x(0.72) - x(0)}
                y={tall + MARKS - 4 - up}
                height={up}
              />
            {/if}
          {/each}
          {#each landmarks(notes) as mark (mark.midi)}
            <text class="name" x={x(mark.midi)} y={tall + MARKS + 18} text-anchor="middle">
              {mark.name}
            </text>
          {/each}
        </svg>
      </div>
    {/if}
    {#if note}
      <section aria-label="The note">
        <p class="big"><NoteName name={note.name} /></p>
        <div class="told">
          <p class="stands">{note.words}</p>
          {#each shown?.lines ?? [] as line (line)}<p class="dim">{line}</p>{/each}
          {#if page.problem}<p role="alert">{page.problem.title}. {page.problem.detail}</p>{/if}
          {#if replay.trouble}<p role="alert">{replay.trouble}</p>{/if}
        </div>
        {#if shown}<NoteDays days={shown.days} name={note.name} near={shown.near_cents} />{/if}
        <div class="hear">
          {#if shown?.days.length && !shown.last}<p class="dim">
              No take of it has its sound.
            </p>{/if}
          {#each hear as { key, what, take } (key)}
            <button class="act" disabled={!take} onclick={() => play(take)}>
              <Key shown={key.toUpperCase()} />
              {take && replay.takeId === take.take_id ? 'stop' : what}
              {#if take}<span class="dim">{day(take.at)}</span>{/if}
            </button>
          {/each}
        </div>
      </section>
    {/if}
  {/if}
  {#snippet foot()}<span class="dim">thick secure, thin held, thread touched</span>{/snippet}
</View>

<style>
  h1 {
    font-size: clamp(2rem, 4.4vw, 3.4rem);
    padding-top: 1.2rem;
  }

  .lead {
    font-size: 1.2rem;
    padding-bottom: 0.6rem;
  }

  .picture,
  .tables {
    flex: 1;
  }

  .tables {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(min(100%, 26rem), 1fr));
    gap: 2rem;
    align-items: start;
    overflow-x: auto;
  }

  svg {
    display: block;
    width: 100%;
    cursor: pointer;
  }

  .scale {
    stroke: var(--line);
  }

  .edge {
    stroke: var(--low);
    stroke-dasharray: 2 4;
  }

  line.here {
    stroke: var(--asked);
    stroke-width: 1.5;
  }

  .tube {
    fill: var(--sound);
  }

  text {
    fill: var(--dim);
    font-size: 15px;
    font-variant-numeric: tabular-nums;
  }

  text.now,
  text.name {
    fill: var(--ink);
  }

  text.part {
    fill: var(--low);
  }

  .mark {
    fill: var(--dim);
  }

  .mark.secure,
  .mark.held {
    fill: var(--ink);
  }

  .mark.faded {
    fill: none;
    stroke: var(--dim);
  }

  .mark.here {
    fill: var(--asked);
    stroke: var(--asked);
  }

  section {
    display: grid;
    grid-template-columns: auto minmax(14rem, 1.2fr) minmax(0, 1fr) auto;
    gap: 0.6rem 1.6rem;
    align-items: center;
    padding-block: 0.5rem 0.8rem;
  }

  .big {
    font-family: var(--font-note);
    font-weight: 700;
    font-size: clamp(3rem, 6vw, 4.6rem);
    line-height: 1;
    min-width: 2.2em;
  }

  .stands {
    font-size: 1.2rem;
  }

  .hear {
    display: grid;
    gap: 0.2rem;
    justify-items: start;
  }

  @media (max-width: 900px) {
    section {
      grid-template-columns: auto minmax(0, 1fr);
    }

    section > :global(:nth-child(n + 3)) {
      grid-column: 1 / -1;
    }

    .big {
      min-width: 0;
    }

    .hear {
      grid-auto-flow: column;
      justify-content: start;
      gap: 1rem;
    }
  }
</style>
