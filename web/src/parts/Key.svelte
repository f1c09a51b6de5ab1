<script lang="ts">
  /** A key as it is shown beside what it does. */
  let { shown }: { shown: string } = $props();
</script>

<kbd>{shown}</kbd>

<style>
  kbd {
    font-family: inherit;
    font-size: 0.8125rem;
    font-weight: 700;
    line-height: 1;
    padding: 0.25rem 0.45rem;
    border: 1px solid color-mix(in srgb, currentColor 35%, transparent);
    border-bottom-width: 2px;
    border-radius: 4px;
    white-space: nowrap;
  }
</style>
