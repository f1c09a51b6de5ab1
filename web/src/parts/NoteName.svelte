<script lang="ts">
  /** A note's name with its sign set right beside the letter, at any size. */
  let { name }: { name: string } = $props();

  const parts = $derived(/^([^♭♮♯]*)([♭♮♯]?)(.*)$/.exec(name));
</script>

<!-- Laid out without spaces: one name, read as one. -->
<span class="note" aria-label={name} role="img"
  >{parts?.[1]}{#if parts?.[2]}<span class="sign">{parts[2]}</span>{/if}{parts?.[3]}</span
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
