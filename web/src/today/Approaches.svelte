<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, type Schemas } from '../api/client';
  import Key from '../parts/Key.svelte';
  import { offer } from '../parts/keys.svelte';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';
  import { Listed } from '../parts/listed.svelte';
  import PickList from '../parts/PickList.svelte';

  /** Where players disagree: the reasons side by side, and what each choice changes. */
  type Approach = Schemas['ApproachOut'];

  const player_id = untrack(() => who.current.id);
  const approaches = new Listed<Approach>(() =>
    answer(api.GET('/api/players/{player_id}/approaches', { params: { path: { player_id } } })),
  );

  const now = $derived(approaches.now);

  const path = (key: string) => ({ params: { path: { player_id, key } } });

  function choose(key: string, option: string) {
    const body = { option };
    approaches.take(() =>
      answer(api.PUT('/api/players/{player_id}/approaches/{key}', { ...path(key), body })),
    );
  }

  function measure(key: string, option: string) {
    const body = { option };
    approaches.take(() =>
      answer(api.POST('/api/players/{player_id}/approaches/{key}/measure', { ...path(key), body })),
    );
  }

  function stop(key: string) {
    approaches.take(() =>
      answer(api.DELETE('/api/players/{player_id}/approaches/{key}/measure', path(key))),
    );
  }

  const against = $derived(now?.options.find(({ key }) => key !== now.chosen));

  offer(() => [
    {
      keys: ['ArrowUp', 'PageUp'],
      shown: '↑',
      label: 'question before',
      run: () => approaches.go(-1),
      disabled: !approaches.at,
    },
    {
      keys: ['ArrowDown', 'PageDown'],
      shown: '↓',
      label: 'next question',
      run: () => approaches.go(1),
      disabled: approaches.at >= approaches.list.length - 1,
    },
    ...(now?.options ?? []).map(({ key, label }, i) => ({
      keys: ['abcd'[i] ?? ''],
      shown: 'ABCD'[i] ?? '',
      label,
      run: () => now && choose(now.key, key),
      quiet: true,
    })),
    {
      keys: ['m'],
      shown: 'M',
      label: 'measure both',
      run: () => now && against && measure(now.key, against.key),
      disabled: !now?.measurable || !!now.trial,
      quiet: true,
    },
    { keys: ['Escape'], shown: 'Esc', label: 'to Today', run: () => void push('/today') },
  ]);
</script>

<View wide problem={approaches.all.problem} retry={() => void approaches.all.load()}>
  <h1>Approaches</h1>
  <p class="dim lead">
    Good players disagree about these. Choose what you hold with; the plan follows.
  </p>
  {#if approaches.refused}<p role="alert">{approaches.refused}</p>{/if}
  <div class="room">
    <PickList label="Questions" of={approaches}>
      {#snippet line(approach: Approach)}
        <span>{approach.words}</span>
        <strong>{approach.options.find(({ key }) => key === approach.chosen)?.label}</strong>
      {/snippet}
    </PickList>
    {#if now}
      <section aria-label={now.words}>
        <h2>{now.words}</h2>
        <div class="options">
          {#each now.options as option, i (option.key)}
            <button
              class="option"
              aria-pressed={option.key === now.chosen}
              onclick={() => choose(now.key, option.key)}
            >
              <span class="label">{option.label}<Key shown={'ABCD'[i] ?? ''} /></span>
              <span class="reason">“{option.reason}”</span>
              <span class="dim">{option.change}</span>
              {#if option.key === now.chosen}<span class="yours">yours</span>{/if}
            </button>
          {/each}
        </div>
        {#if now.trial}
          <p class="trial">
            Measured until {now.trial.ends}: “{now.trial.first}” and “{now.trial.second}” take
            turns.
            {#if now.trial.today}Today: “{now.trial.today}”.{/if}
            {now.trial.words}
          </p>
          <button class="act" onclick={() => stop(now.key)}>Stop measuring</button>
        {:else if now.measurable}
          <p class="trial dim">
            Measure both: they take turns for two weeks. Then you hear which was good more often at
            the same exercises, and how sure that is.
          </p>
          <div class="measures">
            {#each now.options.filter(({ key }) => key !== now.chosen) as other, i (other.key)}
              <button class="act" onclick={() => measure(now.key, other.key)}>
                {#if !i}<Key shown="M" />{/if}measure against “{other.label}”
              </button>
            {/each}
          </div>
        {:else}
          <p class="trial dim">No measure can decide this one.</p>
        {/if}
      </section>
    {/if}
  </div>
</View>

<style>
  h1 {
    font-size: clamp(2.2rem, 4.4vw, 3.4rem);
    padding-top: 1.6rem;
  }

  h2 {
    font-size: 1.9rem;
    margin-bottom: 0.9rem;
  }

  .lead {
    font-size: 1.15rem;
    margin-block: 0.4rem 1.2rem;
  }

  .room {
    flex: 1;
    display: grid;
    grid-template-columns: minmax(15rem, 21rem) minmax(0, 1fr);
    gap: 2.6rem;
    align-items: start;
  }

  .options {
    display: grid;
    grid-template-columns: repeat(2, minmax(0, 1fr));
    gap: 1rem 2rem;
  }

  .option {
    display: grid;
    align-content: start;
    gap: 0.5rem;
    text-align: left;
    padding: 0.9rem 1.1rem 1rem;
    border: 1px solid var(--line);
    border-top: 4px solid var(--line);
    cursor: pointer;
    position: relative;
  }

  .option[aria-pressed='true'] {
    border-top-color: var(--asked);
    background: var(--sheet);
  }

  .label {
    display: flex;
    gap: 0.6rem;
    justify-content: space-between;
    align-items: center;
    font-family: var(--font-note);
    font-weight: 700;
    font-size: 1.3rem;
    line-height: 1.2;
  }

  .reason {
    font-size: 1.15rem;
  }

  .yours {
    color: var(--asked);
    font-weight: 700;
  }

  .measures {
    display: flex;
    flex-wrap: wrap;
    gap: 0 1.6rem;
  }

  .trial {
    margin-top: 1.2rem;
    max-width: 46rem;
  }

  @media (max-width: 760px) {
    .room,
    .options {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
