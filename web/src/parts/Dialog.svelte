<script lang="ts">
  import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';
  import type { Snippet } from 'svelte';
  import Key from './Key.svelte';

  /** Something said over the view until it is closed. */
  let {
    open = $bindable(),
    title,
    children,
  }: { open: boolean; title: string; children: Snippet } = $props();
</script>

<Dialog {open} onOpenChange={(details) => (open = details.open)}>
  <Portal>
    <Dialog.Backdrop class="veil" />
    <Dialog.Positioner class="spoken-room">
      <Dialog.Content class="spoken">
        <Dialog.Title class="spoken-title">{title}</Dialog.Title>
        {@render children()}
        <Dialog.CloseTrigger class="act-main">Close<Key shown="Esc" /></Dialog.CloseTrigger>
      </Dialog.Content>
    </Dialog.Positioner>
  </Portal>
</Dialog>

<style>
  :global(.veil) {
    position: fixed;
    inset: 0;
    background: rgb(8 14 12 / 0.55);
  }

  :global(.spoken-room) {
    position: fixed;
    inset: 0;
    display: grid;
    place-items: center;
    padding: 1rem;
  }

  :global(.spoken) {
    display: grid;
    justify-items: start;
    gap: 1rem;
    max-height: 90vh;
    overflow-y: auto;
    padding: 1.8rem 2.2rem;
    background: var(--sheet);
    color: var(--ink);
    border: 1px solid var(--line);
    border-radius: 6px;
  }

  :global(.spoken-title) {
    font-family: var(--font-note);
    font-weight: 700;
    font-size: 1.6rem;
  }
</style>
