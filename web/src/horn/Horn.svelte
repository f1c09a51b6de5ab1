<script lang="ts">
  import { onDestroy, untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import SlotMap from './SlotMap.svelte';
  import Hand from '../parts/Hand.svelte';
  import Key from '../parts/Key.svelte';
  import NoteName from '../parts/NoteName.svelte';
  import Staff from './Staff.svelte';
  import { HornState, type Pitch } from './horn.svelte';
  import { offer } from '../parts/keys.svelte';
  import View from '../parts/View.svelte';
  import { oneNote } from '../stand/exercise';
  import { putOnStand } from '../stand/settings';
  import { who } from '../players/who.svelte';

  const PITCHES: { pitch: Pitch; key: string; words: string }[] = [
    { pitch: 'equal', key: 'e', words: 'equal' },
    { pitch: 'just', key: 'j', words: 'just' },
    { pitch: 'natural', key: 'n', words: 'as the horn gives it' },
  ];

  const player = $derived(who.current);
  const chosen = untrack(() => new HornState(player));
  let all = $state(false);

  onDestroy(() => chosen.leave());

  const horn = $derived(chosen.horn);
  const note = $derived(chosen.note);
  const way = $derived(chosen.way);
  const length = $derived(horn?.lengths.find(({ name }) => name === way?.length));
  const from = $derived(chosen.from === null ? null : chosen.noteOf(chosen.from));
  /** While a slur is looked at, its words matter more than the other ways. */
  const waysShown = $derived(
    (note?.ways ?? []).map((one, i) => ({ one, i })).filter(({ i }) => !from || i === chosen.place),
  );
  function practise() {
    putOnStand(player.id, oneNote(chosen.midi));
    void push('/stand');
  }

  offer(() => [
    {
      keys: ['ArrowUp', 'PageUp'],
      shown: '↑',
      label: 'note up',
      run: () => chosen.step(1),
      quiet: true,
    },
    {
      keys: ['ArrowDown', 'PageDown'],
      shown: '↓',
      label: 'note down',
      run: () => chosen.step(-1),
      quiet: true,
    },
    {
      keys: ['ArrowRight'],
      shown: '→',
      label: 'next way to play it',
      run: () => chosen.chooseWay(1),
      quiet: true,
    },
    {
      keys: ['ArrowLeft'],
      shown: '←',
      label: 'way to play it before',
      run: () => chosen.chooseWay(-1),
      quiet: true,
    },
    { keys: [']'], shown: ']', label: 'octave up', run: () => chosen.step(12), quiet: true },
    { keys: ['['], shown: '[', label: 'octave down', run: () => chosen.step(-12), quiet: true },
    {
      keys: ['s'],
      shown: 'S',
      label: chosen.from === null ? 'slur or glide from here' : 'end the slur',
      run: () => chosen.anchor(),
    },
    {
      keys: ['w'],
      shown: 'W',
      label: chosen.view === 'written' ? 'as it sounds' : 'as written',
      run: () => void chosen.toggleView(),
    },
    {
      keys: ['t'],
      shown: 'T',
      label: chosen.more ? 'less' : 'trills and other ways to play it',
      run: () => void chosen.toggleMore(),
    },
    {
      keys: ['a'],
      shown: 'A',
      label: 'all lengths or those learned',
      run: () => (all = !all),
      quiet: true,
    },
    { keys: ['Enter'], shown: 'Enter', label: 'play it on the Stand', run: practise, quiet: true },
    { keys: ['m'], shown: 'M', label: 'my horn', run: () => void push('/horn/mine') },
    ...PITCHES.map(({ pitch, key, words }) => ({
      keys: [key],
      shown: key.toUpperCase(),
      label: `hear it ${words}`,
      run: () => chosen.hear(pitch),
      quiet: true,
    })),
  ]);
</script>

<View framed problem={chosen.problem} retry={() => chosen.load()}>
  {#if horn && note}
    <div class="horn">
      <section class="note" aria-label="The note">
        <h1 class="dim">{horn.name}{horn.own ? ', as I have it' : ''}</h1>
        <div class="top">
          <div class="name"><NoteName name={note.name} /></div>
          <Staff {note} />
        </div>
        <div class="steps">
          <button class="act" onclick={() => chosen.step(1)}><Key shown="↑" />higher</button>
          <button class="act" onclick={() => chosen.step(-1)}><Key shown="↓" />lower</button>
          <span class="dim">
            {#if note.written !== note.sounding}
              {chosen.view === 'written' ? `sounds ${note.sounding}` : `written ${note.written}`},
            {/if}
            {note.target_hz.toFixed(1)} Hz, {note.octave}
          </span>
        </div>
        {#if length}
          <Hand
            hand={{
              ...length,
              label: length.hand,
              valve_count: horn.valve_count,
              slide_share: way?.slide_share ?? null,
            }}
          />
        {/if}
        {#if note.pedal}
          <p class="pedal">{note.pedal_words}</p>
        {/if}
        <ol class="ways" aria-label="Ways to play it">
          {#each waysShown as { one, i } (one.length + one.partial)}
            <li class:chosen={i === chosen.place} class:unusable={!one.usable}>
              <button onclick={() => (chosen.place = i)} aria-pressed={i === chosen.place}>
                <strong>{one.fingers}</strong>
                <span class="slot">{one.slot}</span>
                <span
                  class={[
                    'off',
                    one.expected_cents > 0.5 && 'high',
                    one.expected_cents < -0.5 && 'low',
                  ]}
                >
                  {one.off}{one.usable ? '' : ', too far off'}
                </span>
              </button>
              {#if i === chosen.place}
                {#if one.reason}<p class="dim">{one.reason}</p>{/if}
                {#if one.correction}<p>{one.correction}</p>{/if}
                {#if one.measured}
                  <p class="dim">{one.measured.words}</p>
                {/if}
              {/if}
            </li>
          {/each}
        </ol>
        {#if from}
          <div class="said" role="status">
            {#if chosen.between}
              <p class="dim">Slur {from.name} to {note.name}</p>
              <p>{chosen.between.slur.words}</p>
              {#if chosen.between.glide}
                <p class="dim">Glide</p>
                <p>{chosen.between.glide.words}</p>
                {#if !chosen.between.glide.possible && chosen.between.climb?.possible}
                  <p class="dim">By half steps</p>
                  <p>{chosen.between.climb.words}</p>
                {/if}
              {/if}
            {:else}
              <p>From {from.name}: choose where to go with <Key shown="↑" /> <Key shown="↓" />.</p>
            {/if}
          </div>
        {/if}
        <div class="said hear">
          <p class="dim">Hear it{chosen.horn?.tonic ? ` (just over ${horn.tonic})` : ''}</p>
          <div>
            {#each PITCHES as { pitch, key, words } (pitch)}
              <button
                class="act"
                aria-pressed={chosen.sounding === pitch}
                onclick={() => chosen.hear(pitch)}
              >
                <Key shown={key.toUpperCase()} />{words}
              </button>
            {/each}
          </div>
        </div>
        {#if horn.cold}<p class="said">{horn.cold}</p>{/if}
        {#if chosen.more}
          <div class="said more">
            <p class="dim">Lip trills up from {note.name}</p>
            {#each chosen.also?.trills ?? [] as words (words)}<p>{words}</p>{:else}<p>
                none
              </p>{/each}
            <p class="dim">{note.name} in two ways</p>
            {#each chosen.also?.same_pitch ?? [] as words (words)}<p>{words}</p>{:else}<p>
                none
              </p>{/each}
            <p class="dim">
              Through the {length?.position == null ? 'fingerings' : 'positions'}
            </p>
            {#each chosen.through as turn (turn.length)}
              <p>
                <strong>{turn.fingers}</strong>
                {turn.slots.map((slot) => slot.name).join(' ')}
              </p>
            {/each}
          </div>
        {/if}
      </section>
      <section class="map" aria-label="The slots">
        <div class="slots">
          <SlotMap
            {horn}
            {note}
            place={chosen.place}
            {from}
            between={chosen.between}
            {all}
            onchoose={(midi, length) => chosen.choose(midi, length)}
          />
        </div>
        <p class="read">
          dashes stand where the horn really sounds; lines are equal temperament, A4 {horn.a4_hz}
          Hz, {horn.temperature_c} °C
        </p>
      </section>
    </div>
  {/if}
  {#snippet foot()}
    <label class="key-choice">
      spelled in
      <select
        class="select w-auto"
        value={chosen.key}
        onchange={(event) => void chosen.spellIn(event.currentTarget.value)}
      >
        <option value="">no key</option>
        {#each horn?.keys ?? [] as { key, name } (key)}<option value={key}>{name}</option>{/each}
      </select>
    </label>
  {/snippet}
</View>

<style>
  .horn {
    flex: 1;
    min-height: 0;
    display: grid;
    grid-template-columns: 21.5rem minmax(0, 1fr);
    column-gap: 1.6rem;
  }

  .note {
    overflow-y: auto;
    overflow-x: hidden;
    padding-block: 1rem 0.6rem;
    padding-right: 0.4rem;
    font-family: inherit;
    font-weight: 400;
    letter-spacing: 0;
    line-height: 1.4;
  }

  h1 {
    font-family: var(--font-text);
    font-size: 1.0625rem;
    font-weight: 400;
    letter-spacing: 0;
  }

  .top {
    display: flex;
    align-items: center;
    justify-content: space-between;
    gap: 0.6rem;
    min-height: 9.6rem;
  }

  .name {
    font-size: 8rem;
    line-height: 1.1;
  }

  .steps {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0 1.1rem;
    margin-bottom: 0.5rem;
  }

  .ways {
    margin-top: 0.5rem;
    display: grid;
    grid-template-columns: minmax(4rem, max-content) auto minmax(0, 1fr);
    column-gap: 0.8rem;
  }

  .ways li,
  .ways button {
    grid-column: 1 / -1;
    display: grid;
    grid-template-columns: subgrid;
  }

  .ways li {
    border-bottom: 1px solid var(--line);
    border-left: 3px solid transparent;
    padding-left: 0.6rem;
  }

  .ways li.chosen {
    border-left-color: var(--sound);
  }

  .ways button {
    align-items: baseline;
    text-align: left;
    min-height: 2.5rem;
    align-content: center;
    cursor: pointer;
    font-size: 1.15rem;
  }

  .ways p {
    grid-column: 1 / -1;
    padding-bottom: 0.4rem;
  }

  .ways strong {
    font-size: 1.35rem;
  }

  .unusable button {
    color: var(--dim);
  }

  .high {
    color: var(--high);
  }

  .low {
    color: var(--low);
  }

  .slot {
    white-space: nowrap;
  }

  .off {
    text-align: right;
  }

  .unusable .off {
    color: var(--dim);
  }

  .pedal,
  .said {
    margin-top: 0.7rem;
  }

  .said {
    font-size: 1.1rem;
    padding-top: 0.7rem;
    border-top: 1px solid var(--line);
  }

  .ways + .said {
    border-top: 0;
    padding-top: 0;
  }

  .hear div {
    display: flex;
    flex-wrap: wrap;
    gap: 0 1.1rem;
  }

  .hear [aria-pressed='true'] {
    color: var(--asked);
    font-weight: 700;
  }

  .more strong {
    display: inline-block;
    min-width: 3.2rem;
  }

  .map {
    display: flex;
    flex-direction: column;
    min-width: 0;
    min-height: 20rem;
    margin-top: 0.6rem;
  }

  .slots {
    position: relative;
    flex: 1;
  }

  .key-choice {
    display: inline-flex;
    align-items: center;
    gap: 0.5rem;
    white-space: nowrap;
  }

  .read {
    color: var(--dim);
    font-size: 0.9375rem;
    text-align: right;
    padding-bottom: 0.4rem;
  }

  @media (max-width: 1100px) {
    .horn {
      grid-template-columns: 17.5rem minmax(0, 1fr);
    }

    .name {
      font-size: 6rem;
    }
  }

  @media (max-width: 760px) {
    .horn {
      display: flex;
      flex-direction: column;
    }

    .note {
      overflow: visible;
    }

    .top {
      min-height: 0;
    }

    .map {
      order: -1;
      height: 25rem;
    }
  }
</style>
