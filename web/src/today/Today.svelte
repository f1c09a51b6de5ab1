<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import Key from '../parts/Key.svelte';
  import { offer } from '../parts/keys.svelte';
  import Opening from '../parts/Opening.svelte';
  import { upDown } from '../parts/updown';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';
  import { known } from '../api/fields.svelte';
  import DayShape from './DayShape.svelte';
  import { Day } from './today.svelte';
  import Week from './Week.svelte';

  const player = $derived(who.current);
  const day = untrack(() => new Day(player));
  const today = $derived(day.today);
  const field = known.fields.today.minutes;
  let dragged = $state<number | null>(null);
  let over = $state<number | null>(null);

  function start() {
    if (day.start()) void push('/stand');
  }

  function minutes(by: number) {
    const { least, most, step } = field ?? {};
    if (least == null || most == null || step == null) return;
    void day.ask((now) => ({ minutes: Math.min(Math.max(now.minutes + by * step, least), most) }));
  }

  function drop(event: DragEvent, to: number) {
    event.preventDefault();
    if (dragged !== null) void day.move(dragged, to);
    dragged = over = null;
  }

  offer(() => [
    {
      keys: ['Enter'],
      shown: 'Enter',
      label: 'start',
      run: start,
      disabled: !today?.blocks.length,
      quiet: true,
    },
    { keys: ['-'], shown: '−', label: 'fewer minutes', run: () => minutes(-1), quiet: true },
    { keys: ['+', '='], shown: '+', label: 'more minutes', run: () => minutes(1), quiet: true },
    { keys: ['l'], shown: 'L', label: 'how the lips feel', run: () => day.nextLips(), quiet: true },
    {
      keys: ['q'],
      shown: 'Q',
      label: 'quiet hours, or not',
      run: () => void day.ask(({ quiet }) => ({ quiet: !quiet })),
      quiet: true,
    },
    ...upDown((by) => day.choose(by), 'block before', 'block after', { quiet: 'both' }),
    {
      keys: ['['],
      shown: '[',
      label: 'move it earlier',
      run: () => void day.move(day.chosen, day.chosen - 1),
      quiet: true,
    },
    {
      keys: [']'],
      shown: ']',
      label: 'move it later',
      run: () => void day.move(day.chosen, day.chosen + 1),
      quiet: true,
    },
    {
      keys: ['ArrowRight'],
      shown: '→',
      label: 'a minute longer',
      run: () => void day.change('lengthen', { by_min: 1 }),
      quiet: true,
    },
    {
      keys: ['ArrowLeft'],
      shown: '←',
      label: 'a minute shorter',
      run: () => void day.change('lengthen', { by_min: -1 }),
      quiet: true,
    },
    {
      keys: ['s'],
      shown: 'S',
      label: 'another exercise instead',
      run: () => void day.change('swap'),
      quiet: true,
    },
    {
      keys: ['x', 'Delete'],
      shown: 'X',
      label: 'drop it',
      run: () => void day.change('drop'),
      quiet: true,
    },
    { keys: ['w'], shown: 'W', label: 'why this?', run: () => (day.why = !day.why), quiet: true },
    {
      keys: ['r'],
      shown: 'R',
      label: 'plan it anew',
      run: () => void day.ask(() => ({})),
      quiet: true,
    },
    { keys: ['g'], shown: 'G', label: 'programmes', run: () => void push('/programmes') },
    { keys: ['o'], shown: 'O', label: 'approaches', run: () => void push('/approaches') },
    { keys: ['a'], shown: 'A', label: 'about you', run: () => void push('/about') },
  ]);
</script>

<View wide problem={day.plan.problem} retry={() => void day.plan.load()}>
  {#if today}
    <div class="head">
      <div>
        <h1>{today.headline}</h1>
        <p class="summary">{today.summary}</p>
      </div>
      <div class="side">
        <button class="start" disabled={!today.blocks.length} onclick={start}>
          Start<Key shown="Enter" />
        </button>
        <Week days={today.days} today={today.day} />
      </div>
    </div>
    {#if !today.said}
      <p class="first">
        The coach knows nothing of you yet.
        <a href="#/about">Tell it who you are and what you want</a>, and the plan becomes yours.
      </p>
    {/if}
    {#each today.warnings as warning (warning)}<p class="warning" role="alert">{warning}</p>{/each}
    {#if day.refused}<p class="warning" role="alert">{day.refused}</p>{/if}

    {#if today.blocks.length}
      <DayShape blocks={today.blocks} chosen={day.chosen} onchoose={(i) => (day.chosen = i)} />
      <ol aria-label="The plan">
        {#each today.blocks as block, i (i)}
          <li
            class:chosen={i === day.chosen}
            class:over={i === over && dragged !== null}
            draggable="true"
            ondragstart={() => (dragged = i)}
            ondragend={() => (dragged = over = null)}
            ondragover={(event) => {
              event.preventDefault();
              over = i;
            }}
            ondrop={(event) => drop(event, i)}
          >
            <button
              class="block"
              aria-pressed={i === day.chosen}
              onclick={() => (day.chosen = i)}
              ondblclick={() => (day.why = true)}
            >
              <span class="title">{block.title}</span>
              <span class="minutes">
                {#if block.span}<span class="dim">{block.span}</span>{/if}
                {block.all_minutes} min
              </span>
              <span class="reason">{block.reason}</span>
              {#if block.span}
                <Opening
                  playerId={player.id}
                  family={block.exercise.family}
                  values={block.exercise.values}
                />
              {/if}
            </button>
            {#if day.why}
              <ul class="facts">
                {#if block.about}<li>{block.about}.</li>{/if}
                {#if block.rest_minutes}
                  <li>{block.rest_minutes} of its {block.all_minutes} min are for rest.</li>
                {/if}
                {#each block.facts as fact (fact)}<li>{fact}</li>{/each}
              </ul>
            {/if}
          </li>
        {/each}
      </ol>
      <div class="acts" role="group" aria-label="Change {day.block?.title ?? 'the plan'}">
        <span class="dim">{day.block?.title}</span>
        <button class="act" onclick={() => void day.move(day.chosen, day.chosen - 1)}>
          <Key shown="[" />earlier
        </button>
        <button class="act" onclick={() => void day.move(day.chosen, day.chosen + 1)}>
          <Key shown="]" />later
        </button>
        <button class="act" onclick={() => void day.change('lengthen', { by_min: -1 })}>
          <Key shown="←" />shorter
        </button>
        <button class="act" onclick={() => void day.change('lengthen', { by_min: 1 })}>
          <Key shown="→" />longer
        </button>
        <button class="act" onclick={() => void day.change('swap')}><Key shown="S" />swap</button>
        <button class="act" onclick={() => void day.change('drop')}><Key shown="X" />drop</button>
        <button class="act" aria-pressed={day.why} onclick={() => (day.why = !day.why)}>
          <Key shown="W" />why this?
        </button>
      </div>
    {:else}
      <p class="summary">There is nothing to play today. Rest is part of it.</p>
    {/if}

    {#if today.programmes.length}
      <section class="programmes" aria-label="Programmes">
        {#each today.programmes as one (one.key)}
          <p><a href="#/programmes">{one.title}</a> <span class="dim">{one.words}</span></p>
        {/each}
      </section>
    {/if}
  {/if}
  {#snippet foot()}
    {#if today}
      <div class="asked" role="group" aria-label="What the plan is for">
        <span>
          Minutes <strong>{today.minutes}</strong>
          <button class="step" aria-label="fewer minutes" onclick={() => minutes(-1)}>
            <Key shown="−" />
          </button>
          <button class="step" aria-label="more minutes" onclick={() => minutes(1)}>
            <Key shown="+" />
          </button>
        </span>
        <button class="act" onclick={() => day.nextLips()}>
          Lips <strong>{today.lips}</strong><Key shown="L" />
        </button>
        <button
          class="act"
          aria-pressed={today.quiet}
          onclick={() => void day.ask(({ quiet }) => ({ quiet: !quiet }))}
        >
          Quiet hours <strong>{today.quiet ? 'yes' : 'no'}</strong><Key shown="Q" />
        </button>
        <span class="load dim">{today.load}</span>
      </div>
    {/if}
  {/snippet}
</View>

<style>
  .head {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    gap: 1rem 2.4rem;
    align-items: start;
    padding-top: 1.4rem;
  }

  h1 {
    font-size: clamp(2.2rem, 3.7vw, 3rem);
  }

  .summary {
    font-size: 1.2rem;
    color: var(--dim);
    max-width: 48rem;
    margin-top: 0.6rem;
  }

  .side {
    display: grid;
    gap: 0.7rem;
    justify-items: end;
    min-width: 0;
  }

  .start {
    display: flex;
    align-items: center;
    gap: 1.2rem;
    background: var(--ink);
    color: var(--paper);
    font-family: var(--font-note);
    font-weight: 700;
    font-size: 2rem;
    line-height: 1;
    padding: 1.1rem 2.1rem;
    border-radius: 6px;
    cursor: pointer;
  }

  .start:hover {
    background: var(--asked);
  }

  .start:disabled {
    opacity: 0.5;
    cursor: default;
  }

  .first,
  .warning {
    border-left: 3px solid var(--sound);
    padding-left: 0.9rem;
    margin-top: 0.9rem;
    max-width: 56rem;
  }

  .first a,
  .programmes a {
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }

  ol {
    columns: 2;
    column-gap: 3rem;
    margin-top: 0.6rem;
  }

  ol > li {
    break-inside: avoid;
    border-bottom: 1px solid var(--line);
    border-left: 3px solid transparent;
  }

  ol > li.chosen {
    border-left-color: var(--asked);
  }

  ol > li.over {
    border-bottom: 2px solid var(--asked);
  }

  .block {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(9rem, 14rem);
    gap: 0 1.2rem;
    width: 100%;
    min-height: 48px;
    align-items: start;
    text-align: left;
    padding: 0.35rem 0 0.35rem 0.7rem;
    cursor: pointer;
  }

  .title {
    font-weight: 700;
  }

  .reason {
    color: var(--dim);
  }

  .minutes {
    white-space: nowrap;
    text-align: right;
    grid-column: 2;
  }

  .minutes .dim {
    margin-right: 0.7rem;
  }

  .block > :global(.opening) {
    --music-height: 2.9rem;

    height: 2.9rem;
    justify-self: end;
    width: 100%;
  }

  .block > :global(.opening svg) {
    height: 2.9rem;
  }

  .facts {
    padding: 0 0 0.7rem 0.7rem;
    list-style: none;
    color: var(--dim);
  }

  .facts li::before {
    content: '· ';
  }

  .acts,
  .asked {
    display: flex;
    flex-wrap: wrap;
    gap: 0 1.3rem;
    align-items: center;
  }

  .acts {
    padding-top: 0.6rem;
  }

  .programmes {
    padding-block: 0.8rem;
  }

  .asked strong {
    margin-inline: 0.2rem;
  }

  .step {
    min-width: 2.25rem;
    min-height: 2.25rem;
    cursor: pointer;
  }

  @media (max-width: 760px) {
    .head {
      grid-template-columns: minmax(0, 1fr);
    }

    ol {
      columns: 1;
    }

    .side {
      justify-items: stretch;
    }

    .start {
      justify-content: center;
    }

    .block {
      grid-template-columns: minmax(0, 1fr) auto;
    }

    .reason,
    .block > :global(.opening) {
      grid-column: 1 / -1;
    }
  }
</style>
