<script lang="ts">
  import Key from '../parts/Key.svelte';
  import type { OpenPath } from './path.svelte';

  /** Where the player is on an exercise's path: every step as a bar, the higher the harder. */
  let { path, onset }: { path: OpenPath; onset: (values: Record<string, string>) => void } =
    $props();

  const shown = $derived(path.value);
  const next = $derived(shown?.steps[shown.at + 1]);
  const height = (place: number, count: number) => 25 + (75 * (place + 1)) / count;
</script>

{#if shown}
  <section aria-label="Your path">
    <h2>Your path</h2>
    <div class="steps" role="img" aria-label="Step {shown.at + 1} of {shown.steps.length}">
      {#each shown.steps as step, place (place)}
        <span
          class:done={place < shown.at}
          class:now={place === shown.at}
          style:height="{height(place, shown.steps.length)}%"
          title={step.words}
        ></span>
      {/each}
    </div>
    <p class="here">{shown.words}</p>
    {#if next}<p>Next: {next.words}.</p>{/if}
    {#if shown.earns}<p class="dim">{shown.earns}</p>{/if}
    <p class="ways">
      <button class="act" onclick={() => onset(path.values)}
        ><Key shown="P" />Set it to your step</button
      >
      <button class="act" disabled={!path.canGo(-1)} onclick={() => void path.go(-1)}
        ><Key shown="<" />One step back</button
      >
      <button class="act" disabled={!path.canGo(1)} onclick={() => void path.go(1)}
        ><Key shown=">" />One step on</button
      >
    </p>
  </section>
{/if}

<style>
  section {
    padding-bottom: 1.2rem;
  }

  h2 {
    font-size: 1.375rem;
    padding-bottom: 0.3rem;
  }

  .steps {
    display: flex;
    align-items: flex-end;
    gap: min(0.25rem, 0.4%);
    height: 4rem;
    padding-bottom: 0.4rem;
  }

  .steps span {
    flex: 1;
    max-width: 2.4rem;
    border: 1px solid var(--line);
  }

  .steps .done {
    background: var(--line);
  }

  .steps .now {
    background: var(--sound);
    border-color: var(--sound);
  }

  .here {
    font-size: 1.25rem;
  }

  .ways {
    display: flex;
    flex-wrap: wrap;
    gap: 0.3rem 1.2rem;
    padding-top: 0.4rem;
  }

  @media print {
    section {
      display: none;
    }
  }
</style>
