<script lang="ts">
  /** A QR code: rows of `1` (dark) and `0`, with the quiet margin around it that readers need. */
  let { rows, label }: { rows: string[]; label: string } = $props();

  const MARGIN = 4;
  const size = $derived(rows.length + 2 * MARGIN);
  const path = $derived(
    rows
      .flatMap((row, y) =>
        [...row].map((dark, x) => (dark === '1' ? `M${x + MARGIN} ${y + MARGIN}h1v1h-1z` : '')),
      )
      .join(''),
  );
</script>

<svg viewBox="0 0 {size} {size}" role="img" aria-label={label} shape-rendering="crispEdges">
  <rect width={size} height={size} fill="#fff" />
  <path d={path} fill="#000" />
</svg>

<style>
  svg {
    width: min(17rem, 100%);
    aspect-ratio: 1;
  }
</style>
