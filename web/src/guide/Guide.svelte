<script lang="ts">
  import { tick } from 'svelte';
  import { offer } from '../parts/keys.svelte';
  import View from '../parts/View.svelte';
  import { found, SECTIONS } from './guide';

  /** The guide for players; `section` is where it opens. */
  let { params }: { params?: { section?: string } } = $props();

  let asked = $state('');
  let field = $state<HTMLInputElement>();
  const shown = $derived(found(SECTIONS, asked));

  $effect(() => {
    const section = params?.section;
    if (section) void tick().then(() => document.getElementById(section)?.scrollIntoView());
  });

  offer(() => [
    { keys: ['/'], shown: '/', label: 'look for something', run: () => field?.focus() },
    { keys: ['Escape'], shown: 'Esc', label: 'back', run: () => history.back() },
  ]);
</script>

<View wide>
  <div class="guide">
    <aside>
      <h1>Guide</h1>
      <label>
        <span class="dim">Look for</span>
        <input class="input" type="search" bind:value={asked} bind:this={field} />
      </label>
      <ul>
        {#each shown as section (section.id)}
          <li><a href="#/guide/{section.id}">{section.title}</a></li>
        {/each}
      </ul>
    </aside>
    <div class="text">
      {#each shown as section (section.id)}
        <section id={section.id} aria-labelledby="{section.id}-title">
          <h2 id="{section.id}-title">{section.title}</h2>
          <!-- eslint-disable-next-line svelte/no-at-html-tags -- our own text, built in -->
          {@html section.html}
        </section>
      {:else}
        <p role="status">Nothing in the guide has all of these words. Try one of them.</p>
      {/each}
    </div>
  </div>
</View>

<style>
  .guide {
    display: grid;
    grid-template-columns: minmax(0, 15rem) minmax(0, 44rem);
    gap: 1rem 3rem;
    padding-block: 1.6rem;
  }

  aside {
    position: sticky;
    top: 1.6rem;
    align-self: start;
    display: grid;
    gap: 0.8rem;
  }

  aside h1 {
    font-size: 2.6rem;
  }

  aside a {
    display: flex;
    align-items: center;
    min-height: 2.4rem;
  }

  .text {
    font-size: 1.1875rem;
  }

  .text :global(:is(p, ul, table)) {
    margin-block: 0.7rem;
  }

  .text :global(ul) {
    list-style: disc;
    padding-left: 1.3rem;
  }

  .text :global(table) {
    border-collapse: collapse;
    width: 100%;
  }

  .text :global(:is(td, th)) {
    text-align: left;
    vertical-align: top;
    border-top: 1px solid var(--line);
    padding: 0.4rem 1.2rem 0.4rem 0;
  }

  .text :global(kbd) {
    font-family: inherit;
    font-size: 0.85em;
    font-weight: 700;
    padding: 0.1rem 0.4rem;
    border: 1px solid var(--line);
    border-bottom-width: 2px;
    border-radius: 4px;
  }

  .text h2 {
    font-size: 1.7rem;
    padding-top: 1.6rem;
  }

  section:first-child h2 {
    padding-top: 0;
  }

  @media (max-width: 760px) {
    .guide {
      grid-template-columns: 1fr;
    }

    aside {
      position: static;
    }
  }
</style>
