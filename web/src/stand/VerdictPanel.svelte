<script lang="ts">
  import type { Plan } from '../api/client';
  import GettingReady from '../parts/GettingReady.svelte';
  import Key from '../parts/Key.svelte';
  import LaterHolds from '../parts/LaterHolds.svelte';
  import VerdictWords from '../parts/VerdictWords.svelte';
  import type { Stand } from './stand.svelte';

  /** What is to be said now, large: the verdict, or what to do next. */
  let { stand, plan }: { stand: Stand; plan: Plan } = $props();

  const standIn = $derived(stand.source === 'stand-in');
</script>

<div class="said">
  {#if stand.refused}<p class="first" role="alert">{stand.refused}</p>{/if}
  {#if stand.gettingReady}
    <GettingReady
      leftS={stand.gettingReady.leftS}
      meanwhile="You can play already: your attempts are judged once Orexis is ready."
    />
  {:else if stand.going.now?.unheard && !stand.playing}
    <h2 role="status">That attempt was not judged.</h2>
    <p class="first">{stand.going.now.unheard}</p>
  {:else if stand.take}
    <VerdictWords verdict={stand.take.verdict} />
    {#if stand.take.timing}<p>{stand.take.timing}</p>{/if}
    {#if stand.take.holds}<LaterHolds holds={stand.take.holds} small />{/if}
    {#if stand.take.tone.word}<p>{stand.take.tone.sentence}</p>{/if}
    {@const question = stand.whole && stand.going.now?.question}
    {#if question}
      <p class="first">
        {question.words} If not:
        <button class="act" onclick={() => stand.help(question.key)}>
          <Key shown="Q" />{question.leads_to}
        </button>
      </p>
    {/if}
  {:else if stand.playing}
    <h2 class="dim">{plan.sheet.svg ? 'Keep going.' : 'Hold it.'}</h2>
  {:else if stand.whole && stand.listening}
    <p class="first">{stand.going.now?.why}</p>
    <p class="first">Listen for: {plan.listen}</p>
  {:else if stand.listening}
    <h2>{standIn ? 'Space, and it plays.' : 'Play when you are ready.'}</h2>
    <p class="first">Listen for: {plan.listen}</p>
  {:else}
    <p class="dim first">
      Hands stay on the horn: playing starts an attempt, silence ends it, and the verdict comes at
      once. Rest as much as you play.
    </p>
  {/if}
</div>

<style>
  .said {
    min-height: 13.6rem;
    padding-block: 0.6rem 0.8rem;
  }

  h2 {
    font-size: clamp(2.25rem, 5vw, 4rem);
  }

  .first {
    font-size: 1.3rem;
    max-width: 44rem;
  }
</style>
