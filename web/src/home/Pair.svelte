<script lang="ts">
  import type { Problem } from '../api/client';
  import Form from '../parts/Form.svelte';
  import Trust from './Trust.svelte';

  /** What a device shows before it is paired. Nothing of anybody's practice is here. */
  const GONE: Problem = {
    title: 'Orexis does not answer',
    detail: 'Check that it runs on the computer and lets phones and tablets in, then try again.',
  };
  const TABLETS = /iPad|Tablet|Android(?!.*Mobile)/;
  const PHONES = /iPhone|Mobile/;

  let digits = $state('');
  let name = $state(
    TABLETS.test(navigator.userAgent)
      ? 'Tablet'
      : PHONES.test(navigator.userAgent)
        ? 'Phone'
        : 'Laptop',
  );
  let problem = $state.raw<Problem | null>(null);
  let pairing = $state(false);

  const code = $derived(digits.replaceAll(/\D/g, ''));

  async function pair() {
    if (pairing) return;
    if (code.length !== 6) {
      problem = {
        title: 'The code has six digits',
        detail: 'The computer shows it under Phones and tablets.',
      };
      return;
    }
    pairing = true;
    try {
      const sent = await fetch('/api/pairing', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ code, name: name.trim() || 'Device' }),
      });
      if (sent.ok) location.replace('/');
      else {
        problem = (await sent.json()) as Problem;
        digits = '';
      }
    } catch {
      problem = GONE;
    } finally {
      pairing = false;
    }
  }
</script>

<main>
  <h1>Pair this device</h1>
  <p>
    On the computer that runs Orexis, open <strong>Phones and tablets</strong> and choose
    <strong>Pair a device</strong>. Type the six digits that it shows.
  </p>
  <Form label="Pair this device" {problem} keeps="Pair" keep={() => void pair()}>
    <label>
      <span>Code</span>
      <input
        class="input digits"
        bind:value={digits}
        inputmode="numeric"
        autocomplete="one-time-code"
        maxlength="11"
      />
    </label>
    <label>
      <span>What this device is called</span>
      <input class="input" bind:value={name} maxlength="40" />
    </label>
  </Form>
  <h2>Did the browser warn you?</h2>
  <Trust />
</main>

<style>
  main {
    display: grid;
    gap: 1rem;
    max-width: 44rem;
    margin-inline: auto;
    padding: 1.6rem 1rem 3rem;
    font-size: 1.125rem;
  }

  h1 {
    font-size: clamp(2.2rem, 8vw, 3.4rem);
  }

  h2 {
    font-size: 1.6rem;
    padding-top: 1.6rem;
  }

  label {
    display: grid;
    grid-template-columns: minmax(0, 1fr);
    gap: 0.3rem;
    max-width: 22rem;
  }

  .digits {
    font-family: var(--font-note);
    font-weight: 700;
    font-size: 2.6rem;
    letter-spacing: 0.15em;
  }
</style>
