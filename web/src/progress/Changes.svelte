<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, type Schemas } from '../api/client';
  import { offer } from '../parts/keys.svelte';
  import { Listed } from '../parts/listed.svelte';
  import Notice from '../parts/Notice.svelte';
  import Numbers from '../parts/Numbers.svelte';
  import { upDown } from '../parts/updown';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';
  import AnswerPicture from './AnswerPicture.svelte';
  import { tableOf, type Answer } from './answers';

  /** What players ask of their weeks, answered from all they played. */
  const player_id = untrack(() => who.current.id);
  let marks = $state.raw<Schemas['MarkedOut'][]>([]);
  const questions = new Listed<Answer>(async () => {
    const found = await answer(
      api.GET('/api/players/{player_id}/changes', { params: { path: { player_id } } }),
    );
    marks = found.marks;
    return found.answers;
  });

  let asTable = $state(false);
  let place = $state<HTMLElement>();
  const now = $derived(questions.now);
  const played = $derived(questions.list.length > 0);
  const others = $derived(questions.list.filter((one) => isTold(one) && one !== now));
  const rest = $derived(
    [
      { title: 'No change that can be told', list: questions.list.filter((one) => one.no_change) },
      { title: 'Too little to tell yet', list: questions.list.filter(({ told }) => !told) },
    ].filter(({ list }) => list.length),
  );
  const table = $derived(now && tableOf(now));

  function isTold({ told, no_change }: Answer): boolean {
    return told && !no_change;
  }

  function choose(one: Answer) {
    questions.at = questions.list.indexOf(one);
    place?.scrollIntoView({ block: 'start' });
  }

  offer(() => [
    ...upDown((by) => questions.go(by), 'question before', 'next question'),
    {
      keys: ['t'],
      shown: 'T',
      label: asTable ? 'as a picture' : 'as a table',
      run: () => (asTable = !asTable),
      disabled: !played,
    },
    { keys: ['r'], shown: 'R', label: 'range', run: () => void push('/progress') },
    { keys: ['y'], shown: 'Y', label: 'days', run: () => void push('/progress/days') },
    {
      keys: ['x'],
      shown: 'X',
      label: 'carry it elsewhere',
      run: () => void push('/progress/away'),
    },
  ]);
</script>

<View wide problem={questions.all.problem} retry={() => void questions.all.load()}>
  {#if questions.all.value && !played}
    <Notice
      title="Nothing to compare yet"
      detail="What changes is told from your takes, like for like, after twelve days in six weeks."
    >
      <a class="act-main" href="#/stand">Go to the Stand</a>
    </Notice>
  {:else if now}
    <section bind:this={place} class="now" aria-label={now.question}>
      <h1>{now.question}</h1>
      <p class="answer">{now.answer}</p>
      <p class="dim">{now.words}</p>
      {#if asTable}
        {#if table?.rows.length}
          <Numbers columns={table.columns} rows={table.rows}>
            {#snippet row(cells)}
              {#each cells as cell, i (i)}<td>{cell}</td>{/each}
            {/snippet}
          </Numbers>
        {/if}
      {:else}
        <AnswerPicture of={now} {marks} />
      {/if}
    </section>
    {#if others.length}
      <ul class="others" aria-label="More answers">
        {#each others as one (one.key)}
          <li>
            <button onclick={() => choose(one)}>
              <strong>{one.question}</strong>
              <span>{one.answer}</span>
            </button>
            <AnswerPicture of={one} {marks} small />
          </li>
        {/each}
      </ul>
    {/if}
    {#each rest as { title, list } (title)}
      <section class="rest" aria-label={title}>
        <h2>{title}</h2>
        <p>
          {#each list as one (one.key)}
            <button class="act" aria-pressed={one === now} onclick={() => choose(one)}>
              {one.question}
            </button>
          {/each}
        </p>
      </section>
    {/each}
  {/if}
</View>

<style>
  .now {
    padding-top: 1.4rem;
  }

  /* What is chosen has the screen; of the others the questions stand below it. */
  @media (min-width: 761px) {
    .now {
      min-height: calc(100vh - 10.5rem);
    }
  }

  h1 {
    font-size: clamp(2rem, 4.2vw, 3.2rem);
    line-height: 1.1;
  }

  .answer {
    font-size: clamp(1.3rem, 2.4vw, 1.7rem);
    font-weight: 700;
    padding-top: 0.4rem;
  }

  .others {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(19rem, 1fr));
    gap: 1.4rem 2rem;
    padding-block: 1.4rem 0.4rem;
  }

  .others button {
    display: grid;
    width: 100%;
    min-height: 48px;
    text-align: left;
    line-height: 1.25;
    cursor: pointer;
  }

  .others button:hover strong {
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }

  .rest {
    padding-top: 0.8rem;
  }

  h2 {
    font-family: var(--font-text);
    font-size: 1rem;
    color: var(--dim);
  }

  .rest p {
    display: flex;
    flex-wrap: wrap;
    gap: 0 1.6rem;
  }

  .rest [aria-pressed='true'] {
    font-weight: 700;
  }
</style>
