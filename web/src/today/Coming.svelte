<script lang="ts">
  import { untrack } from 'svelte';
  import { answer, api, problemOf, type Problem, type Schemas } from '../api/client';
  import { known } from '../api/fields.svelte';
  import { iso } from '../parts/calendar';
  import { dayOf, fullDay } from '../parts/dates';
  import DateField from '../parts/DateField.svelte';
  import Field from '../parts/Field.svelte';
  import { Loaded } from '../parts/loaded.svelte';

  /** The dates that the plan looks ahead to. */
  let { player_id }: { player_id: number } = $props();

  const fields = known.fields.coming;
  const mine = untrack(() => player_id);
  const dates = new Loaded<Schemas['DateOut'][]>(() =>
    answer(api.GET('/api/players/{player_id}/dates', { params: { path: { player_id: mine } } })),
  );
  void dates.load();

  let day = $state('');
  let kind = $state<Schemas['EventKind']>('concert');
  let words = $state('');
  let problem = $state.raw<Problem | null>(null);
  const today = iso(new Date());
  const ahead = $derived((dates.value ?? []).filter((one) => one.day >= today));

  async function add(event: SubmitEvent) {
    event.preventDefault();
    if (!day) return;
    try {
      await answer(
        api.POST('/api/players/{player_id}/dates', {
          params: { path: { player_id } },
          body: { day, kind, words },
        }),
      );
      problem = null;
      day = words = '';
      await dates.load();
    } catch (error) {
      problem = problemOf(error);
    }
  }

  async function forget(date_id: number) {
    try {
      await answer(
        api.DELETE('/api/players/{player_id}/dates/{date_id}', {
          params: { path: { player_id, date_id } },
        }),
      );
      await dates.load();
    } catch (error) {
      problem = problemOf(error);
    }
  }
</script>

<section aria-label="Coming dates">
  <h2>Coming</h2>
  <p class="dim">Before a concert there is less, and the day after it is easy.</p>
  {#if problem}<p role="alert">{problem.title}. {problem.detail}</p>{/if}
  <ul>
    {#each ahead as one (one.id)}
      <li>
        <span>{fullDay(dayOf(one.day))} <strong>{one.words || one.kind}</strong></span>
        <button class="act dim" onclick={() => void forget(one.id)}>delete</button>
      </li>
    {:else}
      <li class="dim">Nothing is coming.</li>
    {/each}
  </ul>
  <form onsubmit={(event) => void add(event)} aria-label="A coming date">
    <DateField label={fields.day?.label ?? ''} min={today} bind:value={day} />
    {#if fields.kind}<Field field={fields.kind} bind:value={kind} />{/if}
    {#if fields.words}<Field field={fields.words} bind:value={words} required={false} />{/if}
    <button class="act" type="submit" disabled={!day}>add it</button>
  </form>
</section>

<style>
  h2 {
    font-size: 1.4rem;
  }

  li {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    gap: 0.6rem;
    border-bottom: 1px solid var(--line);
    padding-block: 0.3rem;
  }

  form {
    display: grid;
    gap: 0.6rem;
    margin-top: 0.9rem;
  }
</style>
