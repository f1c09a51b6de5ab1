<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, problemOf, type Problem, type Schemas } from '../api/client';
  import { known } from '../api/fields.svelte';
  import Field from '../parts/Field.svelte';
  import Form from '../parts/Form.svelte';
  import Key from '../parts/Key.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import { offer } from '../parts/keys.svelte';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';
  import { handOver } from '../stand/handed';

  /** Who the player is, as far as the coach has to know. */
  const player = untrack(() => who.current);
  const params = { path: { player_id: player.id } };
  const fields = known.fields.about;
  const about = new Loaded(() => answer(api.GET('/api/players/{player_id}/about', { params })));

  interface Filled {
    experience: Schemas['Experience'];
    wish: Schemas['Wish'];
    minutes: number;
    days_a_week: number;
    low: string;
    high: string;
    braces: string;
    weeks_off: number;
    quiet_from: string;
    quiet_until: string;
    hurts: boolean;
  }

  let form = $state<Filled | null>(null);
  let problem = $state.raw<Problem | null>(null);
  const hours = Array.from({ length: 48 }, (_, i) => {
    const at = `${String(Math.floor(i / 2)).padStart(2, '0')}:${i % 2 ? '30' : '00'}`;
    return { value: at, label: at };
  });
  const times = [{ value: '', label: 'none' }, ...hours];
  const notes = $derived([
    { value: '', label: 'find it out' },
    ...(about.value?.notes ?? []).map(({ midi, name }) => ({ value: String(midi), label: name })),
  ]);

  /** What to be careful of, by what is chosen. */
  const cautions = $derived.by(() => {
    const chosen: Record<string, unknown> = { ...form };
    return Object.entries(fields)
      .flatMap(([name, { choices }]) => choices.filter(({ value }) => value === chosen[name]))
      .flatMap(({ caution }) => caution || []);
  });

  async function load() {
    if (!(await about.load()) || !about.value) return;
    const said = about.value;
    form = {
      experience: said.experience,
      wish: said.wish,
      minutes: said.minutes,
      days_a_week: said.days_a_week,
      low: said.low_midi === null ? '' : String(said.low_midi),
      high: said.high_midi === null ? '' : String(said.high_midi),
      braces: said.braces ? 'yes' : 'no',
      weeks_off: said.weeks_off,
      quiet_from: said.quiet_from?.slice(0, 5) ?? '',
      quiet_until: said.quiet_until?.slice(0, 5) ?? '',
      hurts: false,
    };
  }

  void load();

  async function keep(): Promise<boolean> {
    if (!form) return false;
    const { low, high, braces, quiet_from, quiet_until, ...rest } = $state.snapshot(form);
    try {
      await answer(
        api.PUT('/api/players/{player_id}/about', {
          params,
          body: {
            ...rest,
            low_midi: low === '' ? null : Number(low),
            high_midi: high === '' ? null : Number(high),
            braces: braces === 'yes',
            quiet_from: quiet_from || null,
            quiet_until: quiet_until || null,
          },
        }),
      );
      return true;
    } catch (error) {
      problem = problemOf(error);
      return false;
    }
  }

  async function toToday() {
    if (await keep()) void push('/today');
  }

  /** Up and down from the easy note; what speaks there is what the plan builds on. */
  async function find() {
    if (!form || !about.value) return;
    form.low = form.high = '';
    if (!(await keep())) return;
    handOver(about.value.finding);
    void push('/stand');
  }

  offer(() => [
    { keys: ['Enter'], shown: 'Enter', label: 'keep it', run: () => void toToday(), quiet: true },
    { keys: ['f'], shown: 'F', label: 'find the range with the horn', run: () => void find() },
    { keys: ['Escape'], shown: 'Esc', label: 'to Today', run: () => void push('/today') },
  ]);
</script>

<View wide problem={about.problem} retry={() => void load()}>
  <h1>About you, {player.name}</h1>
  <p class="dim lead">
    From this the coach plans your days. All of it can be changed at any time, and a teacher's word
    comes before the coach's.
  </p>
  {#if form}
    <Form label="About you" {problem} keeps="Keep, and plan" keep={() => void toToday()}>
      <div class="fields">
        {#if fields.experience}<Field field={fields.experience} bind:value={form.experience} />{/if}
        {#if fields.wish}<Field field={fields.wish} bind:value={form.wish} />{/if}
        {#if fields.minutes}<Field field={fields.minutes} bind:value={form.minutes} />{/if}
        {#if fields.days_a_week}
          <Field field={fields.days_a_week} bind:value={form.days_a_week} />
        {/if}
        {#if fields.low_midi}
          <Field field={fields.low_midi} choices={notes} bind:value={form.low} />
        {/if}
        {#if fields.high_midi}
          <Field field={fields.high_midi} choices={notes} bind:value={form.high} />
        {/if}
        {#if fields.quiet_from}
          <Field field={fields.quiet_from} choices={times} bind:value={form.quiet_from} />
        {/if}
        {#if fields.quiet_until}
          <Field field={fields.quiet_until} choices={times} bind:value={form.quiet_until} />
        {/if}
        {#if fields.weeks_off}<Field field={fields.weeks_off} bind:value={form.weeks_off} />{/if}
        {#if fields.braces}<Field field={fields.braces} bind:value={form.braces} />{/if}
      </div>
      <label class="hurts">
        <input class="checkbox" type="checkbox" bind:checked={form.hurts} />
        Something hurts right now
      </label>
      {#if form.hurts}
        <p class="caution" role="alert">
          {known.fields.care.title}
          {known.fields.care.detail}
        </p>
      {/if}
      {#each cautions as caution (caution)}<p class="caution">{caution}</p>{/each}
    </Form>
    <p class="find">
      <button class="act" onclick={() => void find()}>
        <Key shown="F" />Keep, and find your range: two minutes with the horn
      </button>
    </p>
  {/if}
</View>

<style>
  h1 {
    font-size: clamp(2.2rem, 4.4vw, 3.4rem);
    padding-top: 1.6rem;
  }

  .lead {
    font-size: 1.15rem;
    max-width: 46rem;
    margin-block: 0.5rem 1.2rem;
  }

  .fields {
    display: grid;
    grid-template-columns: repeat(2, minmax(0, 22rem));
    gap: 0.9rem 2.4rem;
  }

  .hurts {
    display: flex;
    gap: 0.6rem;
    align-items: center;
    min-height: 2.25rem;
  }

  .caution {
    border-left: 3px solid var(--high);
    padding-left: 0.9rem;
    max-width: 46rem;
    white-space: pre-line;
  }

  .find {
    margin-top: 0.6rem;
  }

  @media (max-width: 760px) {
    .fields {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
