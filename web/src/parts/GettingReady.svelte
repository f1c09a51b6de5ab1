<script lang="ts">
  /** Listening is not ready yet: about how many seconds that still takes, where it is known, and what
   * can be done meanwhile. */
  let { leftS, meanwhile }: { leftS: number | null; meanwhile: string } = $props();
</script>

<h2 role="status">Getting ready to listen.</h2>
<p>
  {#if leftS !== null}About {Math.ceil(leftS)} s more.{/if}
  {meanwhile}
</p>

<style>
  h2 {
    font-size: clamp(2.25rem, 5vw, 4rem);
  }

  p {
    font-size: 1.3rem;
    max-width: 44rem;
  }
</style>
