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
  } from '../api/client';
  import Foot from '../parts/Foot.svelte';
  import Key from '../parts/Key.svelte';
  import { offer } from '../state/keys.svelte';
  import { who } from '../state/who.svelte';

  const NEW: PlayerIn = {
    name: '',
    instrument_key: '',
    view: 'written',
    clef: 'treble',
    a4_hz: 440,
    gate_level: 'normal',
  };

  let instruments = $state.raw<Instrument[]>([]);
  let form = $state<PlayerIn | null>(null);
  let editing = $state<number | null>(null);
  let problem = $state.raw<Problem | null>(null);
  let dialog = $state<HTMLFormElement>();

  const instrument = $derived(instruments.find(({ key }) => key === form?.instrument_key));
  const families = $derived(
    [...new Set(instruments.map(({ family }) => family))].map(
      (family) => [family, instruments.filter((one) => one.family === family)] as const,
    ),
  );
  const showForm = $derived(form !== null || (who.loaded && who.players.length === 0));

  onMount(async () => {
    try {
      instruments = await answer(api.GET('/api/instruments'));
      if (who.players.length === 0) add();
    } catch (error) {
      problem = problemOf(error);
    }
  });

  $effect(() => {
    if (form && dialog) dialog.querySelector('input')?.focus();
  });

  function add() {
    editing = null;
    problem = null;
    const first = instruments[0];
    form = { ...NEW, instrument_key: first?.key ?? '', clef: first?.clefs[0] ?? 'treble' };
  }

  function edit(player: Player) {
    editing = player.id;
    problem = null;
    const { name, instrument_key, view, clef, a4_hz, gate_level } = player;
    form = { name, instrument_key, view, clef, a4_hz, gate_level };
  }

  function fitClef() {
    const clefs = instrument?.clefs ?? [];
    if (form && clefs[0] && (!form.clef || !clefs.includes(form.clef))) form.clef = clefs[0];
  }

  async function save(event: SubmitEvent) {
    event.preventDefault();
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
      form = null;
      problem = null;
      if (editing === null) choose(kept);
    } catch (error) {
      problem = problemOf(error);
    }
  }

  function choose(player: Player) {
    who.choose(player.id);
    void push('/stand');
  }

  const notation = (player: Player) =>
    `${player.view}, ${player.clef} clef, A4 ${player.a4_hz} Hz, gate ${player.gate_level}`;

  offer(() => [
    ...who.players.slice(0, 9).map((player, i) => ({
      keys: [`F${i + 1}`],
      shown: `F${i + 1}`,
      label: player.name,
      run: () => choose(player),
      quiet: true,
    })),
    { keys: ['n'], shown: 'N', label: 'new player', run: add },
  ]);
</script>

<div class="view wide">
  <h1>Who plays?</h1>
  <div class="content">
    {#if who.players.length}
      <ul>
        {#each who.players as player, i (player.id)}
          <li class:now={player.id === who.player?.id}>
            <button class="who" onclick={() => choose(player)}>
              <span class="name">{player.name}</span>
              <span>{player.instrument_name}<br /><span class="dim">{notation(player)}</span></span>
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
    {#if showForm && form}
      <form
        bind:this={dialog}
        onsubmit={save}
        aria-label={editing ? 'Change player' : 'New player'}
      >
        <h2>{editing ? 'Change player' : 'New player'}</h2>
        {#if problem}<p role="alert" class="problem">{problem.title}. {problem.detail}</p>{/if}
        <label>
          Name
          <input class="input" bind:value={form.name} maxlength="60" autocomplete="off" required />
        </label>
        <label>
          Instrument
          <select class="select" bind:value={form.instrument_key} onchange={fitClef}>
            {#each families as [family, members] (family)}
              <optgroup label={family}>
                {#each members as one (one.key)}<option value={one.key}>{one.name}</option>{/each}
              </optgroup>
            {/each}
          </select>
        </label>
        <div class="pair">
          <label>
            Notes named
            <select class="select" bind:value={form.view}>
              <option value="written">as written</option>
              <option value="sounding">as they sound</option>
            </select>
          </label>
          <label>
            Clef
            <select class="select" bind:value={form.clef}>
              {#each instrument?.clefs ?? [] as clef (clef)}<option value={clef}>{clef}</option
                >{/each}
            </select>
          </label>
        </div>
        <div class="pair">
          <label>
            A4, Hz
            <input
              class="input"
              type="number"
              min="415"
              max="466"
              step="0.1"
              bind:value={form.a4_hz}
            />
          </label>
          <label>
            Gate
            <select class="select" bind:value={form.gate_level}>
              <option value="strict">strict</option>
              <option value="normal">normal</option>
              <option value="kind">kind</option>
            </select>
          </label>
        </div>
        <div class="pair">
          <button class="act-main" type="submit">Keep<Key shown="Enter" /></button>
          {#if who.players.length}
            <button class="act" type="button" onclick={() => (form = null)}>leave it</button>
          {/if}
        </div>
      </form>
    {:else if problem}
      <p role="alert" class="problem">{problem.title}. {problem.detail}</p>
    {:else}
      <button class="act new" onclick={add}><Key shown="N" />new player</button>
    {/if}
  </div>
  <Foot />
</div>

<style>
  h1 {
    font-size: clamp(2.2rem, 4.6vw, 3.4rem);
    padding-block: 1.6rem 1.2rem;
  }

  h2 {
    font-size: 1.6rem;
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

  form {
    display: grid;
    gap: 0.9rem;
  }

  label {
    display: grid;
    gap: 0.2rem;
    color: var(--dim);
  }

  .pair {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 1rem;
    align-items: center;
  }

  .problem {
    color: var(--high);
    font-weight: 700;
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
