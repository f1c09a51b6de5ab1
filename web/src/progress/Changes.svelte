<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, type Schemas } from '../api/client';
  import { offer } from '../parts/keys.svelte';
  import { Listed } from '../parts/listed.svelte';
  import Notice from '../parts/Notice.svelte';
  import Numbers from '../parts/Numbers.svelte';
  import PickList from '../parts/PickList.svelte';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';
  import Curve from './Curve.svelte';
  import { dayOf, shortDay } from '../parts/dates';

  /** What players ask of their weeks, answered from all they played. */
  const player_id = untrack(() => who.current.id);
  let marks = $state.raw<Schemas['MarkedOut'][]>([]);
  const questions = new Listed<Schemas['ChangedOut']>(async () => {
    const found = await answer(
      api.GET('/api/players/{player_id}/changes', { params: { path: { player_id } } }),
    );
    marks = found.marks;
    return found.answers;
  });

  let asTable = $state(false);
  const now = $derived(questions.now);
  const played = $derived(questions.list.some(({ days }) => days.length));

  offer(() => [
    {
      keys: ['ArrowUp', 'PageUp'],
      shown: '↑',
      label: 'question before',
      run: () => questions.go(-1),
    },
    {
      keys: ['ArrowDown', 'PageDown'],
      shown: '↓',
      label: 'next question',
      run: () => questions.go(1),
    },
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
          <Numbers
            columns={['day', `${now.unit}, ${now.measure}`, 'times']}
            rows={[...now.days].reverse()}
          >
            {#snippet row(day)}
              <td>{shortDay(dayOf(day.on))}</td>
              <td>{day.value.toFixed(1)}</td>
              <td>{day.times}</td>
            {/snippet}
          </Numbers>
        {:else if now.days.length}
          <Curve of={now} {marks} />
          <p class="dim">
            A dot is a day, the larger the more was played: {now.unit}, {now.measure}.
            {#if now.line.length}The line lies within its band 19 times of 20.{/if}
          </p>
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
  }
</style>
