<script lang="ts">
  /** How a ribbon is read, in three sentences: items of a list. */
</script>

<li>
  <strong>Height</strong> is pitch: on the line you are in tune, above it sharp, below it flat; in the
  tint you are good.
</li>
<li><strong>Thickness</strong> is loudness.</li>
<li><strong>Edge</strong> is clearness: smooth is clear, frayed is airy.</li>
