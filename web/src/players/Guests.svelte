<script lang="ts">
  import { dayOf, fullDay } from '../parts/dates';
  import FileButton from '../parts/FileButton.svelte';
  import Key from '../parts/Key.svelte';
  import type { Guests } from './guests.svelte';

  /** Reports of others that are open here, to be read. */
  let { guests }: { guests: Guests } = $props();

  let chooser = $state<FileButton>();

  export function choose(): void {
    chooser?.open();
  }
</script>

<section aria-label="Guests">
  <FileButton
    bind:this={chooser}
    label="A report to read"
    accept=".zip,application/zip"
    onchoose={([file]) => file && void guests.open(file)}
  >
    <Key shown="O" />open somebody's report
  </FileButton>
  {#if guests.trouble}<p role="alert">{guests.trouble}</p>{/if}
  {#if guests.list.length}
    <ul>
      {#each guests.list as guest, i (guest.id)}
        <li>
          <a href="#/guests/{guest.id}">
            {#if i === 0}<Key shown="G" />{/if}
            <strong>{guest.player}</strong>, {guest.instrument}
            <span class="dim">
              {fullDay(dayOf(guest.first))} to {fullDay(dayOf(guest.last))}
            </span>
          </a>
          <button class="act dim" onclick={() => void guests.close(guest)}>
            close the report
          </button>
        </li>
      {/each}
    </ul>
  {/if}
</section>

<style>
  section {
    padding-block: 1.2rem;
  }

  li {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0 1.2rem;
    border-top: 1px solid var(--line);
    padding: 0.3rem 0.8rem;
  }

  a {
    flex: 1;
    min-height: 2.6rem;
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0 0.5rem;
  }
</style>
