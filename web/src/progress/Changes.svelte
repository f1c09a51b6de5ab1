<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, type Schemas } from '../api/client';
  import { offer } from '../parts/keys.svelte';
  import { Listed } from '../parts/listed.svelte';
  import Notice from '../parts/Notice.svelte';
  import Numbers from '../parts/Numbers.svelte';
  import PickList from '../parts/PickList.svelte';
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
  const now = $derived(questions.now);
  const played = $derived(questions.list.length > 0);
  const table = $derived(now && tableOf(now));

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
    <div class="room">
      <PickList label="Questions" of={questions}>
        {#snippet line(one)}
          <strong>{one.question}</strong>
          <span class="dim">{one.answer}</span>
        {/snippet}
      </PickList>
      <section aria-label={now.question}>
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
    </div>
  {/if}
</View>

<style>
  .room {
    flex: 1;
    display: grid;
    grid-template-columns: minmax(13rem, 19rem) minmax(0, 1fr);
    gap: 2.4rem;
    align-items: start;
    padding-top: 1.4rem;
  }

  /* A long list scrolls by itself, so that the answer stays where it is. */
  .room > :global(ol) {
    position: sticky;
    top: 1.4rem;
    max-height: calc(100vh - 6.5rem);
    overflow-y: auto;
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

  @media (max-width: 900px) {
    .room {
      grid-template-columns: minmax(0, 1fr);
      gap: 1.2rem;
    }

    section {
      order: -1;
    }

    .room > :global(ol) {
      position: static;
      max-height: none;
    }
  }
</style>
