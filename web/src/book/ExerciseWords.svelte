<script lang="ts">
  import type { ExercisePage } from '../api/client';

  /** Why an exercise is there, what to listen for, what goes wrong and what then; how its notes
   * stand with the player, and what counts. */
  let { page }: { page: ExercisePage } = $props();
</script>

<p class="why">{page.words.why}</p>
<dl>
  <div>
    <dt>listen for</dt>
    <dd>{page.words.listen}</dd>
  </div>
  <div>
    <dt>goes wrong</dt>
    <dd>{page.words.wrong}</dd>
  </div>
  <div>
    <dt>then</dt>
    <dd>{page.words.remedy}</dd>
  </div>
  {#if page.words.caution}
    <div>
      <dt>careful</dt>
      <dd>{page.words.caution}</dd>
    </div>
  {/if}
  {#if page.standings.length}
    <div>
      <dt>its notes</dt>
      <dd class="standings">
        {#each page.standings as note (note.name)}
          <span><strong>{note.name}</strong> <span class="dim">{note.standing}</span></span>
        {/each}
      </dd>
    </div>
  {/if}
  {#if page.aims.length}
    <div>
      <dt>counts</dt>
      <dd>{page.aims.join(', ')}</dd>
    </div>
  {/if}
</dl>

<style>
  .why {
    font-size: 1.375rem;
    padding-bottom: 0.6rem;
  }

  dl div {
    display: grid;
    grid-template-columns: 6.5rem 1fr;
    border-top: 1px solid var(--line);
    padding-block: 0.35rem;
  }

  dt {
    color: var(--dim);
  }

  dd {
    font-size: 1.125rem;
  }

  .standings {
    display: flex;
    flex-wrap: wrap;
    gap: 0.1rem 1.2rem;
  }
</style>
