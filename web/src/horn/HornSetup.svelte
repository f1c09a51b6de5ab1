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
  import Field from '../parts/Field.svelte';
  import FileButton from '../parts/FileButton.svelte';
  import Form from '../parts/Form.svelte';
  import Key from '../parts/Key.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import { offer } from '../parts/keys.svelte';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';

  /** What the player can set; empty fields are as the horn was made. */
  interface Setting {
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
  const path = $derived({ player_id: player.id });
  const setup = new Loaded<HornSetup>(() =>
    answer(api.GET('/api/players/{player_id}/horn/setup', { params: { path } })),
  );
  let form = $state<Setting | null>(null);
  let problem = $state.raw<Problem | null>(null);
  let saved = $state(false);
  let scaleFile = $state<string | null>(null);
  let chooser = $state<FileButton>();

  const kept = $derived(setup.value);
  const fields = $derived(kept?.fields ?? {});

  onMount(() => void load());

  async function load() {
    if (await setup.load()) show();
  }

  function show() {
    if (!kept) return;
    scaleFile = null;
    const { f1_hz, main_pull_mm, slide_reach, temperature_c, temperament, tonic, scale } = kept;
    const own = kept.is_slide ? kept.trigger_cents : kept.valve_cents;
    const pulls = kept.valve_pull_mm;
    form = {
      f1_hz: f1_hz ?? null,
      main_pull_mm,
      cents: kept.parts.map((part, i) => own[i] ?? part.cents),
      pulls: kept.is_slide ? [] : kept.parts.map((_, i) => pulls[i] ?? 0),
      slide_reach,
      temperature_c,
      temperament,
      tonic,
      scale: scale ?? null,
    };
  }

  async function keep() {
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
      setup.value = await answer(
        api.PUT('/api/players/{player_id}/horn/setup', { params: { path }, body }),
      );
      show();
      problem = null;
      saved = true;
    } catch (error) {
      problem = problemOf(error);
    }
  }

  async function readScale([file]: File[]) {
    if (!file || !form) return;
    form.scale = await file.text();
    form.temperament = 'scale';
    scaleFile = file.name;
  }

  const leave = () => void push('/horn');

  offer(() => [
    {
      keys: ['Escape', 'Backspace'],
      shown: 'Esc',
      label: 'back to the horn',
      run: leave,
      quiet: true,
    },
    {
      keys: ['Enter', 'k'],
      shown: 'Enter',
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
    {
      keys: ['f'],
      shown: 'F',
      label: 'a scale file',
      run: () => chooser?.open(),
      disabled: !form,
      quiet: true,
    },
  ]);
</script>

<View wide problem={setup.problem} retry={() => void load()}>
  <h1>My horn</h1>
  <p class="dim lead">
    {player.name}, {player.instrument_name}, A4 {player.a4_hz} Hz. What is set here changes every fingering,
    position and target you are shown.
  </p>
  {#if saved}<p role="status" class="saved">Kept.</p>{/if}
  {#if form && kept}
    <div class="setup">
      <Form label="My horn" {problem} keep={() => void keep()} leaves="back to the horn" {leave}>
        <fieldset>
          <legend>The open horn</legend>
          {#if fields.f1_hz}
            <Field
              field={fields.f1_hz}
              bind:value={form.f1_hz}
              required={false}
              usual={kept.usual_f1_hz.toFixed(2)}
              note="usual {kept.usual_f1_hz.toFixed(2)}"
            />
          {/if}
          {#if fields.main_pull_mm}
            <Field field={fields.main_pull_mm} bind:value={form.main_pull_mm} />
          {/if}
          {#if fields.temperature_c}
            <Field field={fields.temperature_c} bind:value={form.temperature_c} />
          {/if}
          {#if fields.slide_reach}
            <Field field={fields.slide_reach} bind:value={form.slide_reach} />
          {/if}
        </fieldset>
        {#if kept.parts.length}
          <fieldset>
            <legend>{kept.is_slide ? 'Triggers' : 'Valves'}</legend>
            <div class="parts" class:pulled={!kept.is_slide}>
              {#each kept.parts as part, i (part.name)}
                {@const [lowers, pull] = [fields[`cents.${i}`], fields[`pull.${i}`]]}
                {#if lowers}<Field field={lowers} bind:value={form.cents[i]} />{/if}
                {#if pull}<Field field={pull} bind:value={form.pulls[i]} />{/if}
              {/each}
            </div>
          </fieldset>
        {/if}
        <fieldset>
          <legend>Tuning</legend>
          {#if fields.temperament}
            <Field
              field={fields.temperament}
              choices={fields.temperament.choices.map((one) => ({
                ...one,
                off: one.value === 'scale' && !form?.scale,
              }))}
              bind:value={form.temperament}
            />
          {/if}
          {#if fields.tonic}
            <Field
              field={fields.tonic}
              choices={kept.tonics.map((label, value) => ({ label, value }))}
              bind:value={form.tonic}
            />
          {/if}
          <FileButton
            bind:this={chooser}
            label="Scale file (.scl)"
            accept=".scl,text/plain"
            onchoose={(files) => void readScale(files)}
          >
            <Key shown="F" />A scale file (.scl)
          </FileButton>
          {#if scaleFile}
            <p class="dim">{scaleFile}: keep it to use it.</p>
          {:else if kept.scale_name}
            <p class="dim">
              Kept: {kept.scale_name}.
              <a href="/api/players/{player.id}/horn/scale.scl" download>Save it as a file</a>
            </p>
          {/if}
        </fieldset>
        {#snippet more()}
          <button class="act" type="button" onclick={asMade}><Key shown="R" />as it was made</button
          >
        {/snippet}
      </Form>
    </div>
    <p class="dim lead">
      What your takes measure of each note is weighed in by itself: after four takes it counts as
      much as the model, later more. The Horn shows both.
    </p>
  {/if}
</View>

<style>
  h1 {
    font-size: clamp(2.2rem, 4.6vw, 3.4rem);
    padding-block: 1.6rem 0.4rem;
  }

  .lead {
    max-width: 46rem;
    margin-bottom: 1.2rem;
  }

  .setup {
    flex: 1;
    margin-bottom: 1rem;
  }

  .setup > :global(form) {
    grid-template-columns: repeat(auto-fit, minmax(17rem, 1fr));
    gap: 1.6rem 2rem;
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

  .parts {
    display: grid;
    gap: 0.6rem 0.8rem;
  }

  .parts.pulled {
    grid-template-columns: 46fr 54fr;
  }

  a {
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }

  .saved {
    color: var(--asked);
    font-weight: 700;
    margin-bottom: 1rem;
  }
</style>
