<script lang="ts">
  import { SYSTEMS, systemOf } from './systems';

  /** How to trust the computer's certificate. `fingerprint` is told at the computer alone. */
  let { fingerprint = null }: { fingerprint?: string | null } = $props();

  let chosen = $state(systemOf(navigator.userAgent).key);
  const system = $derived(SYSTEMS.find(({ key }) => key === chosen));
</script>

<section aria-label="Trusting the certificate">
  <p>
    The first time, the browser warns that the connection is not private. It is encrypted; the
    browser only does not know your computer yet. Trust its certificate once on each device: without
    that, some devices do not let a page use the microphone.
  </p>
  <div class="systems" role="group" aria-label="The device">
    {#each SYSTEMS as { key, name } (key)}
      <button class="act" aria-pressed={key === chosen} onclick={() => (chosen = key)}
        >{name}</button
      >
    {/each}
  </div>
  {#if system}
    <ol>
      {#each system.steps as step (step)}<li>{step}</li>{/each}
    </ol>
  {/if}
  <p><a class="act underlined" href="/trust" download="orexis.crt">The certificate</a></p>
  {#if fingerprint}
    <p class="dim">
      Its fingerprint (SHA-256), to compare with what the device shows: <code>{fingerprint}</code>
    </p>
  {:else}
    <p class="dim">
      The computer shows the certificate’s fingerprint under Phones and tablets. Compare the two if
      you are not sure who else is in this network.
    </p>
  {/if}
</section>

<style>
  section {
    display: grid;
    gap: 0.7rem;
    justify-items: start;
    max-width: 44rem;
  }

  .systems {
    display: flex;
    flex-wrap: wrap;
    gap: 0.2rem 1.2rem;
  }

  .systems [aria-pressed='true'] {
    font-weight: 700;
    text-decoration: underline;
    text-underline-offset: 0.3em;
    text-decoration-color: var(--sound);
    text-decoration-thickness: 3px;
  }

  ol {
    display: grid;
    gap: 0.4rem;
    list-style: decimal;
    padding-left: 1.4rem;
  }

  code {
    overflow-wrap: anywhere;
  }
</style>
