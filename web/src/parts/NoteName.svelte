<script lang="ts">
  /** A note's name with its sign set right beside the letter, at any size. */
  let { name }: { name: string } = $props();

  const letter = $derived(name.charAt(0));
  const sign = $derived(name.match(/[♭♮♯]/)?.[0] ?? '');
  const octave = $derived(name.slice(1 + sign.length));
</script>

<!-- Laid out without spaces: one name, read as one. -->
<span class="note" aria-label={name} role="img"
  >{letter}{#if sign}<span class="sign">{sign}</span>{/if}{octave}</span
>

<style>
  .note {
    display: inline-block;
    white-space: nowrap;
  }

  .sign {
    font-weight: 400;
    -webkit-text-stroke: 0.02em currentColor;
  }
</style>
