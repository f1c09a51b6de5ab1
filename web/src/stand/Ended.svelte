<script lang="ts">
  import { answer, api, problemOf, type Schemas } from '../api/client';
  import Key from '../parts/Key.svelte';
  import Timeline from './Timeline.svelte';
  import { Spoken } from './spoken.svelte';

  /** The end of a session: its timeline, what waits, playing time, and a note to oneself. */
  interface Props {
    sessionId: string;
    headline: string;
    summary: Schemas['SummaryOut'];
    spoken: Spoken;
    onclose: () => void;
  }

  let { sessionId, headline, summary, spoken, onclose }: Props = $props();

  let note = $state('');
  let kept = $state('');
  const most = $derived(Math.max(1, ...summary.registers.map(({ seconds }) => seconds)));

  async function keep() {
    try {
      await answer(
        api.PUT('/api/sessions/{session_id}/note', {
          params: { path: { session_id: sessionId } },
          body: { note },
        }),
      );
      kept = 'Kept.';
    } catch (error) {
      kept = problemOf(error).title;
    }
  }
</script>

<section class="ended" aria-label="The end of the session">
  <h2>{headline}</h2>
  {#if summary.timeline.length}
    <Timeline blocks={summary.timeline} />
  {:else}
    <p>Nothing was played.</p>
  {/if}
  <div class="columns">
    <div>
      {#if summary.left_out.length}
        <h3>Left out</h3>
        {#each summary.left_out as line, i (i)}<p>{line}</p>{/each}
      {/if}
      {#if summary.tomorrow.length}
        <h3>Leave for tomorrow</h3>
        {#each summary.tomorrow as line, i (i)}<p>{line}</p>{/each}
      {/if}
      {#if summary.rests}
        <h3>Rests</h3>
        <p>{summary.rests}</p>
      {/if}
    </div>
    <div>
      <h3>Playing time</h3>
      <p>{summary.playing}</p>
      <dl>
        {#each summary.registers as { name, seconds, words } (name)}
          <dt>{name}</dt>
          <dd><span style:width="{(100 * seconds) / most}%"></span></dd>
          <dd>{words}</dd>
        {/each}
      </dl>
      <h3><label for="note">A note to yourself</label></h3>
      <textarea id="note" class="textarea" rows="2" maxlength="2000" bind:value={note}></textarea>
      <p class="ways">
        <button class="act" disabled={!note.trim()} onclick={keep}>Keep the note</button>
        <button class="act" onclick={() => spoken.toggle(sessionId)}>
          <Key shown="V" />{spoken.recording ? 'stop and keep it' : 'say it instead'}
        </button>
        <span role="status">{kept || spoken.said}</span>
      </p>
    </div>
  </div>
  <button class="act-main" onclick={onclose}>Back to the Stand<Key shown="Esc" /></button>
</section>

<style>
  .ended {
    flex: 1;
    min-height: 0;
    overflow-y: auto;
    padding-block: 0.8rem;
  }

  h2 {
    font-size: clamp(2.4rem, 5vw, 4rem);
  }

  h3 {
    margin-top: 1.1rem;
    color: var(--dim);
    font-size: 1rem;
  }

  .columns {
    display: grid;
    grid-template-columns: 1.2fr 1fr;
    gap: 0 3rem;
    margin-bottom: 1.2rem;
    font-size: 1.25rem;
  }

  dl {
    display: grid;
    grid-template-columns: auto 1fr auto;
    align-items: center;
    gap: 0.2rem 1rem;
  }

  dd span {
    display: block;
    height: 0.9rem;
    background: var(--sound);
  }

  textarea {
    font-size: 1.1rem;
  }

  .ways {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem 1.5rem;
    font-size: 1rem;
  }

  @media (max-width: 760px) {
    .columns {
      grid-template-columns: 1fr;
    }
  }
</style>
