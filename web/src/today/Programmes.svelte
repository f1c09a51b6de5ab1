<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, type Schemas } from '../api/client';
  import Key from '../parts/Key.svelte';
  import { offer } from '../parts/keys.svelte';
  import { upDown } from '../parts/updown';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';
  import { Listed } from '../parts/listed.svelte';
  import PickList from '../parts/PickList.svelte';
  import Coming from './Coming.svelte';

  /** Work that grows over weeks: each programme is a path, with where one is on it. */
  type Programme = Schemas['ProgrammeOut'];

  const player_id = untrack(() => who.current.id);
  const params = { path: { player_id } };
  const programmes = new Listed<Programme>(() =>
    answer(api.GET('/api/players/{player_id}/programmes', { params })),
  );

  const now = $derived(programmes.now);

  function step(what: Schemas['ProgrammeStep']) {
    if (!now) return;
    programmes.take(() =>
      answer(
        api.PUT('/api/players/{player_id}/programmes/{key}', {
          params: { path: { player_id, key: now.key } },
          body: { step: what },
        }),
      ),
    );
  }

  function leave() {
    if (!now) return;
    programmes.take(() =>
      answer(
        api.DELETE('/api/players/{player_id}/programmes/{key}', {
          params: { path: { player_id, key: now.key } },
        }),
      ),
    );
  }

  const follows = $derived(now !== undefined && now.stage !== null);

  offer(() => [
    ...upDown((by) => programmes.go(by), 'before', 'next', { quiet: 'both' }),
    {
      keys: ['b'],
      shown: 'B',
      label: follows ? 'begin again' : 'begin',
      run: () => step('begin'),
    },
    {
      keys: [' '],
      shown: 'Space',
      label: now?.paused ? 'go on' : 'pause',
      run: () => step(now?.paused ? 'go-on' : 'pause'),
      disabled: !follows,
    },
    { keys: ['x'], shown: 'X', label: 'leave it', run: leave, disabled: !follows },
    { keys: ['Escape'], shown: 'Esc', label: 'to Today', run: () => void push('/today') },
  ]);
</script>

<View wide problem={programmes.all.problem} retry={() => void programmes.all.load()}>
  <h1>Programmes</h1>
  {#if programmes.refused}<p role="alert">{programmes.refused}</p>{/if}
  <div class="room">
    <PickList label="Programmes" of={programmes}>
      {#snippet line(one: Programme)}
        <strong>{one.title}</strong>
        <span class="dim">{one.words || 'not followed'}</span>
      {/snippet}
    </PickList>
    {#if now}
      <section aria-label={now.title}>
        <h2>{now.title}</h2>
        <p class="why">{now.why}</p>
        <ol class="path" aria-label="Stages">
          {#each now.stages as stage, i (i)}
            <li
              class:past={now.stage !== null && i < now.stage}
              class:here={i === now.stage}
              aria-current={i === now.stage ? 'step' : undefined}
            >
              <span class="dot" aria-hidden="true"></span>
              <span class="name">
                {stage.name}
                {#if i === now.stage}<span class="you">you are here</span>{/if}
              </span>
              {#if i === now.stage || now.stage === null}<span class="dim">{stage.words}</span>{/if}
            </li>
          {/each}
        </ol>
        <p>{now.words}</p>
        <p class="dim">{now.earns} {now.rests}</p>
        {#if now.caution}<p class="caution">{now.caution}</p>{/if}
        <div class="acts">
          <button class="act-main" onclick={() => step('begin')}>
            {follows ? 'Begin again' : 'Begin'}<Key shown="B" />
          </button>
          {#if follows}
            <button class="act" onclick={() => step(now.paused ? 'go-on' : 'pause')}>
              <Key shown="Space" />{now.paused ? 'go on' : 'pause'}
            </button>
            <button class="act" onclick={leave}><Key shown="X" />leave it</button>
          {/if}
        </div>
      </section>
    {/if}
    <Coming {player_id} />
  </div>
</View>

<style>
  h1 {
    font-size: clamp(2.2rem, 4.4vw, 3.4rem);
    padding-block: 1.6rem 1rem;
  }

  h2 {
    font-size: 1.9rem;
  }

  .room {
    flex: 1;
    display: grid;
    grid-template-columns: minmax(13rem, 17rem) minmax(0, 1fr) minmax(13rem, 16rem);
    gap: 2.4rem;
    align-items: start;
  }

  .why {
    font-size: 1.15rem;
    margin-top: 0.5rem;
  }

  .path {
    margin-block: 1rem;
  }

  .path li {
    position: relative;
    display: grid;
    padding: 0.18rem 0 0.18rem 2rem;
    color: var(--dim);
  }

  .path li::before {
    content: '';
    position: absolute;
    left: 0.55rem;
    top: 0;
    bottom: 0;
    border-left: 2px solid var(--line);
  }

  .path li.past::before,
  .path li.here::before {
    border-left-color: var(--asked);
  }

  .dot {
    position: absolute;
    left: 0.2rem;
    top: 0.6rem;
    width: 0.8rem;
    height: 0.8rem;
    border-radius: 50%;
    background: var(--paper);
    border: 2px solid var(--line);
  }

  .past .dot {
    background: var(--asked);
    border-color: var(--asked);
  }

  .here .dot {
    left: 0;
    top: 0.45rem;
    width: 1.2rem;
    height: 1.2rem;
    background: var(--sound);
    border-color: var(--sound);
  }

  .here .name {
    color: var(--ink);
    font-weight: 700;
    font-size: 1.3rem;
  }

  .you {
    margin-left: 0.6rem;
    font-size: 1rem;
    font-weight: 400;
    color: var(--asked);
  }

  .caution {
    border-left: 3px solid var(--high);
    padding-left: 0.9rem;
    margin-top: 0.6rem;
  }

  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 0.6rem 1.4rem;
    align-items: center;
    margin-top: 1.1rem;
  }

  @media (max-width: 980px) {
    .room {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
