<script lang="ts">
  import NoteName from './NoteName.svelte';

  /** One note, or the lowest and the highest of several. */
  let { span }: { span: string[] } = $props();
</script>

{#each span as name, i (name)}{#if i}<span class="dim">–</span>{/if}<NoteName {name} />{/each}
