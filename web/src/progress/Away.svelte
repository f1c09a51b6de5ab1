<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import Key from '../parts/Key.svelte';
  import { offer } from '../parts/keys.svelte';
  import { upDown } from '../parts/updown';
  import View from '../parts/View.svelte';
  import { who } from '../players/who.svelte';

  /** All a player has kept, as files that other programs read. */
  const player = untrack(() => who.current);
  const FORMS = {
    csv: { key: 'c', name: 'CSV' },
    json: { key: 'j', name: 'JSON' },
    ics: { key: 'i', name: 'iCalendar' },
  } as const;
  type Form = keyof typeof FORMS;
  const home = `/api/players/${player.id}`;
  const table = (name: string) => ({
    csv: `${home}/tables/${name}.csv`,
    json: `${home}/tables/${name}.json`,
  });
  const things: { name: string; words: string; files: Partial<Record<Form, string>> }[] = [
    {
      name: 'takes',
      words:
        'A row for each attempt: when, which exercise, what was said of it, how long it sounded.',
      files: table('takes'),
    },
    {
      name: 'notes',
      words: 'A row a note that was asked for, with everything that was measured of it.',
      files: table('notes'),
    },
    {
      name: 'days',
      words: 'A row a day: what was played, how far it went, what you wrote down.',
      files: table('days'),
    },
    {
      name: 'practice log',
      words: 'What was written down elsewhere and brought in here.',
      files: table('log'),
    },
    {
      name: 'calendar',
      words: 'Today’s plan, concerts and rehearsals, and every session there was.',
      files: { ics: `${home}/calendar.ics` },
    },
    {
      name: 'your exercises',
      words: 'Those you keep under a name, for another Orexis.',
      files: { json: `${home}/own.json` },
    },
  ];

  let at = $state(0);
  let list = $state<HTMLElement>();

  function go(by: number) {
    at = Math.min(Math.max(at + by, 0), things.length - 1);
  }

  function save(form: Form) {
    list?.querySelector<HTMLAnchorElement>(`[data-at="${at}"] a[data-form="${form}"]`)?.click();
  }

  const forms = (files: object) => Object.entries(files) as [Form, string][];
  offer(() => [
    ...upDown(go, 'before', 'next'),
    ...forms(things[at]?.files ?? {}).map(([form]) => ({
      keys: [FORMS[form].key],
      shown: FORMS[form].key.toUpperCase(),
      label: `save as ${FORMS[form].name}`,
      run: () => save(form),
    })),
    {
      keys: ['r'],
      shown: 'R',
      label: 'report for a teacher',
      run: () => void push('/progress/report'),
    },
    { keys: ['b'], shown: 'B', label: 'bring in', run: () => void push('/progress/in') },
    { keys: ['s'], shown: 'S', label: 'where it is', run: () => void push('/progress/storage') },
    { keys: ['Escape'], shown: 'Esc', label: 'to Progress', run: () => void push('/progress') },
  ]);
</script>

<View wide>
  <h1>Carry it elsewhere</h1>
  <p class="dim lead">All that {player.name} has kept, on every horn, as open files.</p>
  <div class="content">
    <ul bind:this={list}>
      {#each things as { name, words, files }, i (name)}
        <li class:at={i === at} data-at={i}>
          <div>
            <h2>{name}</h2>
            <p class="dim">{words}</p>
          </div>
          {#each forms(files) as [form, address] (form)}
            <a class="act" href={address} data-form={form} download>
              {#if i === at}<Key shown={FORMS[form].key.toUpperCase()} />{/if}{FORMS[form].name}
              <span class="hidden">of {name}</span>
            </a>
          {/each}
        </li>
      {/each}
    </ul>
    <p class="ways">
      <a class="act" href="#/progress/report"><Key shown="R" />a report for a teacher</a>
      <a class="act" href="#/progress/in"><Key shown="B" />bring something in</a>
      <a class="act" href="#/progress/storage"><Key shown="S" />where it is kept, and copies</a>
    </p>
  </div>
</View>

<style>
  h1 {
    font-size: clamp(2.2rem, 4.4vw, 3.4rem);
    padding-block: 1.2rem 0.2rem;
  }

  h2 {
    font-size: 1.5rem;
  }

  .content {
    flex: 1;
  }

  .lead {
    font-size: 1.15rem;
    padding-bottom: 0.8rem;
  }

  li {
    display: grid;
    grid-template-columns: minmax(0, 46rem) 8rem 7rem;
    gap: 1rem;
    align-items: center;
    border-top: 1px solid var(--line);
    border-left: 3px solid transparent;
    padding: 0.45rem 0.9rem;
  }

  li.at {
    border-left-color: var(--sound);
    background: var(--sheet);
  }

  .ways {
    display: flex;
    flex-wrap: wrap;
    gap: 0.2rem 2rem;
    border-top: 1px solid var(--line);
    padding-block: 0.8rem 1.2rem;
    font-size: 1.15rem;
  }

  .hidden {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }

  @media (max-width: 700px) {
    li {
      grid-template-columns: 1fr 1fr;
    }

    li > div {
      grid-column: 1 / -1;
    }
  }
</style>
