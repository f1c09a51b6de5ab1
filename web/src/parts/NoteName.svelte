<script lang="ts">
  /** A note's name with its sign set right beside the letter, at any size. */
  let { name }: { name: string } = $props();

  const letter = $derived(name.charAt(0));
  const sign = $derived(name.match(/[♭♮♯]/)?.[0] ?? '');
  const octave = $derived(name.slice(1 + sign.length));
</script>

<!-- Laid out without spaces: one name, read as one. -->
<span class="note" aria-label={name} role="img"
  >{letter}{#if sign}<span class="sign" class:flat={sign === '♭'}>{sign}</span>{/if}{octave}</span
>

<style>
  .note {
    display: inline-block;
    white-space: nowrap;
  }

  .sign {
    display: inline-block;
    font-size: 0.92em;
    font-weight: 400;
    line-height: 0;
    transform: translateY(-0.17em);
    margin-inline: 0.02em 0.01em;
    -webkit-text-stroke: 0.018em currentColor;
  }

  .flat {
    transform: translateY(-0.12em);
  }
</style>
