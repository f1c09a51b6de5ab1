<script lang="ts">
  import { onMount } from 'svelte';
  import { push } from 'svelte-spa-router';
  import {
    answer,
    api,
    problemOf,
    type Instrument,
    type Player,
    type PlayerIn,
    type Problem,
    type Schemas,
  } from '../api/client';
  import { known } from '../api/fields.svelte';
  import { dayOf, longDay } from '../parts/dates';
  import Field from '../parts/Field.svelte';
  import Form from '../parts/Form.svelte';
  import Key from '../parts/Key.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import { offer } from '../parts/keys.svelte';
  import View from '../parts/View.svelte';
  import { complain } from '../takes/deletion';
  import Guests from './Guests.svelte';
  import { Guests as OpenGuests } from './guests.svelte';
  import Leaving from './Leaving.svelte';
  import { who } from './who.svelte';

  const fields = known.fields.player;
  const instruments = new Loaded<Instrument[]>(() => answer(api.GET('/api/instruments')));

  const gone = new Loaded<Schemas['DeletedPlayerOut'][]>(() =>
    answer(api.GET('/api/players/deleted')),
  );
  let leaving = $state(false);

  const guests = new OpenGuests();
  let chooser = $state<Guests>();

  let form = $state<Required<PlayerIn> | null>(null);
  let editing = $state<number | null>(null);
  let problem = $state.raw<Problem | null>(null);
  let box = $state<HTMLElement>();

  const choices = $derived(
    (instruments.value ?? []).map(({ key, name, family }) => ({
      value: key,
      label: name,
      group: family,
    })),
  );
  const instrument = $derived(instruments.value?.find(({ key }) => key === form?.instrument_key));

  onMount(async () => {
    void gone.load();
    void guests.all.load();
    await instruments.load();
  });

  $effect(() => {
    if (form) box?.querySelector('input')?.focus();
  });

  function add() {
    editing = null;
    problem = null;
    const first = instruments.value?.[0];
    form = {
      name: '',
      instrument_key: first?.key ?? '',
      view: 'written',
      clef: first?.clefs[0] ?? 'treble',
      a4_hz: 440,
      standard: 'normal',
      note_names: 'english',
      octaves: 'numbers',
    };
  }

  function edit(player: Player) {
    editing = player.id;
    problem = null;
    const { name, instrument_key, view, clef, a4_hz, standard, note_names, octaves } = player;
    form = { name, instrument_key, view, clef, a4_hz, standard, note_names, octaves };
  }

  function leave() {
    form = null;
    problem = null;
  }

  function fitClef() {
    const clefs = instrument?.clefs ?? [];
    if (form && clefs[0] && !clefs.includes(form.clef)) form.clef = clefs[0];
  }

  async function save() {
    if (!form) return;
    try {
      const body = $state.snapshot(form);
      const kept = await answer(
        editing === null
          ? api.POST('/api/players', { body })
          : api.PUT('/api/players/{player_id}', {
              params: { path: { player_id: editing } },
              body,
            }),
      );
      who.put(kept);
      leave();
      if (editing === null) {
        who.choose(kept.id);
        // Whom the coach does not know yet, it asks.
        void push('/about');
      }
    } catch (error) {
      problem = problemOf(error);
    }
  }

  const edited = $derived(who.players.find(({ id }) => id === editing));

  function dropped() {
    if (editing !== null) who.drop(editing);
    leave();
    void gone.load();
  }

  async function bringBack(id: number) {
    try {
      const params = { path: { player_id: id } };
      who.put(await answer(api.POST('/api/players/{player_id}/restore', { params })));
      await gone.load();
    } catch (error) {
      complain(error);
    }
  }

  const last = $derived(gone.value?.[0]);

  /** Listens at once, whoever it is. */
  const blow = () => void push('/free/now');

  function choose(player: Player) {
    who.choose(player.id);
    void push('/today');
  }

  offer(() => [
    ...who.players.slice(0, 9).map((player, i) => ({
      keys: [`F${i + 1}`],
      shown: `F${i + 1}`,
      label: player.name,
      run: () => choose(player),
      quiet: true,
    })),
    {
      keys: ['z'],
      shown: 'Z',
      label: last ? `bring ${last.name} back` : 'bring back',
      run: () => last && void bringBack(last.id),
      disabled: !last || form !== null,
      quiet: true,
    },
    ...(form
      ? [
          {
            keys: ['Enter'],
            shown: 'Enter',
            label: 'keep it',
            run: () => void save(),
            quiet: true,
          },
          {
            keys: ['Escape'],
            shown: 'Esc',
            label: 'leave it',
            run: leave,
            quiet: true,
          },
        ]
      : [
          ...(who.player
            ? []
            : [{ keys: [' '], shown: 'Space', label: 'blow a note', run: blow, quiet: true }]),
          { keys: ['n'], shown: 'N', label: 'new player', run: add },
          {
            keys: ['t'],
            shown: 'T',
            label: 'phones and tablets',
            run: () => void push('/devices'),
          },
          ...guests.actions(() => chooser?.choose()),
        ]),
  ]);
</script>

<View wide problem={instruments.problem} retry={() => void instruments.load()}>
  {#if !who.player && !form}
    <section class="first" aria-label="A first note">
      <h1>Blow a note.</h1>
      <p>
        Any note, on any horn. Orexis names the note and says how many cents sharp or flat it is.
        You say afterwards who played. The sound stays on this computer.
      </p>
      <button class="act-main" onclick={blow}><Key shown="Space" />Listen</button>
    </section>
    <h2>Who plays?</h2>
  {:else}
    <h1>Who plays?</h1>
  {/if}
  <div class="content">
    {#if who.players.length}
      <ul>
        {#each who.players as player, i (player.id)}
          <li class:now={player.id === who.player?.id}>
            <button class="who" onclick={() => choose(player)}>
              <span class="name">{player.name}</span>
              <span>{player.instrument_name}<br /><span class="dim">{player.words}</span></span>
              {#if i < 9}<Key shown="F{i + 1}" />{/if}
            </button>
            <button
              class="act change"
              aria-label="Change {player.name}"
              onclick={() => edit(player)}
            >
              change
            </button>
          </li>
        {/each}
      </ul>
    {/if}
    {#if form}
      {@const title = editing ? 'Change player' : 'New player'}
      <section bind:this={box}>
        <h2>{title}</h2>
        <Form label={title} {problem} keep={() => void save()} {leave}>
          {#if fields.name}<Field field={fields.name} bind:value={form.name} />{/if}
          {#if fields.instrument_key}
            <Field
              field={fields.instrument_key}
              {choices}
              bind:value={form.instrument_key}
              onchange={fitClef}
            />
          {/if}
          <div class="pair">
            {#if fields.view}<Field field={fields.view} bind:value={form.view} />{/if}
            {#if fields.clef}
              <Field
                field={fields.clef}
                choices={(instrument?.clefs ?? []).map((clef) => ({ value: clef, label: clef }))}
                bind:value={form.clef}
              />
            {/if}
            {#if fields.note_names}
              <Field field={fields.note_names} bind:value={form.note_names} />
            {/if}
            {#if fields.octaves}<Field field={fields.octaves} bind:value={form.octaves} />{/if}
            {#if fields.a4_hz}<Field field={fields.a4_hz} bind:value={form.a4_hz} />{/if}
            {#if fields.standard}
              <Field field={fields.standard} bind:value={form.standard} />
            {/if}
          </div>
        </Form>
        {#if edited}
          <button class="act delete" onclick={() => (leaving = true)}>
            delete {edited.name}…
          </button>
          <Leaving player={edited} bind:open={leaving} ongone={dropped} />
        {/if}
      </section>
    {:else}
      <button class="act new" onclick={add}><Key shown="N" />new player</button>
    {/if}
  </div>
  <Guests bind:this={chooser} {guests} />
  {#if gone.value?.length}
    <section aria-label="Deleted">
      {#each gone.value as one, i (one.id)}
        <p class="dim">
          {one.name} was deleted, and can be brought back until {longDay(dayOf(one.until))}.
          <button class="act" onclick={() => void bringBack(one.id)}>
            {#if i === 0}<Key shown="Z" />{/if}bring {one.name} back
          </button>
        </p>
      {/each}
    </section>
  {/if}
</View>

<style>
  .first {
    display: grid;
    justify-items: start;
    gap: 0.8rem;
    max-width: 40rem;
    padding-block: 1.6rem 2.4rem;
    font-size: 1.25rem;
  }

  h1 {
    font-size: clamp(2.2rem, 4.6vw, 3.4rem);
    padding-block: 1.6rem 1.2rem;
  }

  h2 {
    font-size: 1.6rem;
    margin-bottom: 0.9rem;
  }

  .content {
    flex: 1;
    display: grid;
    grid-template-columns: minmax(0, 1.5fr) minmax(19rem, 1fr);
    gap: 3rem;
    align-items: start;
  }

  li {
    display: flex;
    align-items: center;
    gap: 1rem;
    border-top: 1px solid var(--line);
    border-left: 3px solid transparent;
    padding-inline: 0.8rem;
  }

  li.now {
    border-left-color: var(--sound);
  }

  .who {
    flex: 1;
    display: grid;
    grid-template-columns: 9rem 1fr auto;
    align-items: center;
    gap: 1rem;
    text-align: left;
    padding-block: 0.9rem;
    cursor: pointer;
  }

  .name {
    font-family: var(--font-note);
    font-weight: 700;
    font-size: 2rem;
  }

  .who:hover .name {
    color: var(--asked);
  }

  .change {
    color: var(--dim);
  }

  .new {
    justify-self: start;
  }

  .delete {
    margin-top: 1rem;
    color: var(--dim);
  }

  .pair {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 1rem;
    align-items: center;
  }

  @media (max-width: 760px) {
    .content {
      grid-template-columns: minmax(0, 1fr);
      gap: 1.5rem;
    }

    .who {
      grid-template-columns: 1fr auto;
    }

    .who span:nth-child(2) {
      grid-row: 2;
      grid-column: 1 / -1;
    }
  }
</style>
