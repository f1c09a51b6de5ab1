<script lang="ts">
  import { onMount } from 'svelte';
  import { push } from 'svelte-spa-router';
  import {
    answer,
    api,
    problemOf,
    type HornSetup,
    type HornSetupIn,
    type Problem,
  } from '../api/client';
  import Foot from '../parts/Foot.svelte';
  import Key from '../parts/Key.svelte';
  import { offer } from '../state/keys.svelte';
  import { who } from '../state/who.svelte';

  /** What the player can set; empty fields are as the horn was made. */
  interface Form {
    f1_hz: number | null;
    main_pull_mm: number;
    cents: number[];
    pulls: number[];
    slide_reach: number;
    temperature_c: number;
    temperament: HornSetup['temperament'];
    tonic: number;
    scale: string | null;
  }

  const player = $derived(who.current);
  let kept = $state.raw<HornSetup | null>(null);
  let form = $state<Form | null>(null);
  let problem = $state.raw<Problem | null>(null);
  let saved = $state(false);
  let scaleFile = $state<string | null>(null);

  onMount(() => void load());

  const path = $derived({ player_id: player.id });

  async function load() {
    try {
      show(await answer(api.GET('/api/players/{player_id}/horn/setup', { params: { path } })));
    } catch (error) {
      problem = problemOf(error);
    }
  }

  function show(setup: HornSetup) {
    kept = setup;
    scaleFile = null;
    const { f1_hz, main_pull_mm, slide_reach, temperature_c, temperament, tonic, scale } = setup;
    const own = setup.is_slide ? setup.trigger_cents : setup.valve_cents;
    form = {
      f1_hz: f1_hz ?? null,
      main_pull_mm,
      cents: setup.parts.map((part, i) => own[i] ?? part.cents),
      pulls: setup.is_slide ? [] : setup.parts.map((_, i) => setup.valve_pull_mm[i] ?? 0),
      slide_reach,
      temperature_c,
      temperament,
      tonic,
      scale: scale ?? null,
    };
  }

  async function keep(event?: SubmitEvent) {
    event?.preventDefault();
    if (!form || !kept) return;
    const { cents, pulls, ...rest } = $state.snapshot(form);
    const asMade = cents.every((value, i) => value === kept?.parts[i]?.cents);
    const own = asMade ? [] : cents;
    await send({
      ...rest,
      f1_hz: rest.f1_hz || null,
      valve_cents: kept.is_slide ? [] : own,
      trigger_cents: kept.is_slide ? own : [],
      valve_pull_mm: pulls.some((pull) => pull > 0) ? pulls : [],
    });
  }

  async function asMade() {
    if (!form || !kept) return;
    const { temperature_c, temperament, tonic, scale } = $state.snapshot(form);
    await send({ ...kept.made, temperature_c, temperament, tonic, scale });
  }

  async function send(body: HornSetupIn) {
    saved = false;
    try {
      show(
        await answer(api.PUT('/api/players/{player_id}/horn/setup', { params: { path }, body })),
      );
      problem = null;
      saved = true;
    } catch (error) {
      problem = problemOf(error);
    }
  }

  async function readScale(event: Event & { currentTarget: HTMLInputElement }) {
    const file = event.currentTarget.files?.[0];
    if (!file || !form) return;
    form.scale = await file.text();
    form.temperament = 'scale';
    scaleFile = file.name;
  }

  offer(() => [
    {
      keys: ['Escape', 'Backspace'],
      shown: 'Esc',
      label: 'back to the horn',
      run: () => void push('/horn'),
      quiet: true,
    },
    {
      keys: ['k'],
      shown: 'K',
      label: 'keep it',
      run: () => void keep(),
      disabled: !form,
      quiet: true,
    },
    {
      keys: ['r'],
      shown: 'R',
      label: 'as it was made',
      run: () => void asMade(),
      disabled: !form,
      quiet: true,
    },
  ]);
</script>

<div class="view wide">
  <h1>My horn</h1>
  <p class="dim lead">
    {player.name}, {player.instrument_name}, A4 {player.a4_hz} Hz. What is set here changes every fingering,
    position and target you are shown.
  </p>
  {#if problem}<p role="alert" class="problem">{problem.title}. {problem.detail}</p>{/if}
  {#if saved}<p role="status" class="saved">Kept.</p>{/if}
  {#if form && kept}
    <form onsubmit={keep} aria-label="My horn">
      <fieldset>
        <legend>The open horn</legend>
        <label>
          <span
            >Its lowest resonance, Hz <span class="dim">(usual {kept.usual_f1_hz.toFixed(2)})</span
            ></span
          >
          <input
            class="input"
            type="number"
            step="0.01"
            placeholder={kept.usual_f1_hz.toFixed(2)}
            bind:value={form.f1_hz}
          />
        </label>
        <label>
          Main slide pulled, mm
          <input
            class="input"
            type="number"
            min="0"
            step="0.5"
            required
            bind:value={form.main_pull_mm}
          />
        </label>
        <label>
          Air, °C
          <input
            class="input"
            type="number"
            min="-10"
            max="45"
            step="0.5"
            required
            bind:value={form.temperature_c}
          />
        </label>
        {#if kept.is_slide}
          <label>
            Slide reach, × the open seventh position
            <input
              class="input"
              type="number"
              min="0.7"
              max="1.4"
              step="0.01"
              required
              bind:value={form.slide_reach}
            />
          </label>
        {/if}
      </fieldset>
      {#if kept.parts.length}
        <fieldset>
          <legend>{kept.is_slide ? 'Triggers' : 'Valves'}</legend>
          <div class="parts" class:pulled={!kept.is_slide}>
            {#each kept.parts as part, i (part.name)}
              <span>{part.name}</span>
              <label>
                lowers, cents
                <input
                  class="input"
                  type="number"
                  step="0.1"
                  required
                  bind:value={form.cents[i]}
                  aria-label="{part.name} lowers, cents"
                />
              </label>
              {#if !kept.is_slide}
                <label>
                  slide pulled, mm
                  <input
                    class="input"
                    type="number"
                    min="0"
                    step="0.5"
                    required
                    bind:value={form.pulls[i]}
                    aria-label="{part.name} slide pulled, mm"
                  />
                </label>
              {/if}
            {/each}
          </div>
        </fieldset>
      {/if}
      <fieldset>
        <legend>Tuning</legend>
        <label>
          Targets
          <select class="select" bind:value={form.temperament}>
            <option value="equal">equal</option>
            <option value="just">just, over a drone</option>
            <option value="scale" disabled={!form.scale}>from a scale file</option>
          </select>
        </label>
        <label>
          Drone, or the scale's first note
          <select class="select" bind:value={form.tonic}>
            {#each kept.tonics as name, tonic (tonic)}<option value={tonic}>{name}</option>{/each}
          </select>
        </label>
        <label>
          Scale file (.scl)
          <input type="file" accept=".scl,text/plain" onchange={readScale} />
        </label>
        {#if scaleFile}
          <p class="dim">{scaleFile}: keep it to use it.</p>
        {:else if kept.scale_name}
          <p class="dim">
            Kept: {kept.scale_name}.
            <a href="/api/players/{player.id}/horn/scale.scl" download>Save it as a file</a>
          </p>
        {/if}
      </fieldset>
      <div class="acts">
        <button class="act-main" type="submit">Keep<Key shown="K" /></button>
        <button class="act" type="button" onclick={asMade}><Key shown="R" />as it was made</button>
        <button class="act" type="button" onclick={() => push('/horn')}
          ><Key shown="Esc" />back to the horn</button
        >
      </div>
    </form>
    <p class="dim lead">
      What your takes measure of each note is weighed in by itself: after four takes it counts as
      much as the model, later more. The Horn shows both.
    </p>
  {/if}
  <Foot />
</div>

<style>
  h1 {
    font-size: clamp(2.2rem, 4.6vw, 3.4rem);
    padding-block: 1.6rem 0.4rem;
  }

  .lead {
    max-width: 46rem;
    margin-bottom: 1.2rem;
  }

  form {
    flex: 1;
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(17rem, 1fr));
    gap: 1.6rem 2.6rem;
    align-content: start;
  }

  fieldset {
    display: grid;
    gap: 0.8rem;
    align-content: start;
    min-width: 0;
  }

  legend {
    font-family: var(--font-note);
    font-weight: 700;
    font-size: 1.4rem;
    margin-bottom: 0.6rem;
  }

  label {
    display: grid;
    gap: 0.2rem;
    min-width: 0;
  }

  .parts {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 0.6rem 1rem;
    align-items: end;
  }

  .parts.pulled {
    grid-template-columns: auto 1fr 1fr;
  }

  .parts > span {
    padding-bottom: 0.5rem;
    white-space: nowrap;
  }

  .acts {
    grid-column: 1 / -1;
    display: flex;
    flex-wrap: wrap;
    gap: 0.6rem 1.6rem;
    align-items: center;
    margin-bottom: 1rem;
  }

  a {
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }

  .problem {
    color: var(--high);
    font-weight: 700;
    margin-bottom: 1rem;
  }

  .saved {
    color: var(--asked);
    font-weight: 700;
    margin-bottom: 1rem;
  }

  @media (max-width: 760px) {
  }
</style>
