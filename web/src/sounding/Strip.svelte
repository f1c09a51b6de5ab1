<script lang="ts">
  import type { Snippet } from 'svelte';
  import Key from '../parts/Key.svelte';

  /** A tool that sounds while one plays: what it is set to, large and with a step down and up, and
   * what else can be set of it, folded away on a phone. */
  interface Props {
    label: string;
    /** The key that starts and stops it. */
    shown: string;
    lower: { label: string; run: () => void };
    higher: { label: string; run: () => void };
    stop: () => void;
    onwheel?: (event: WheelEvent) => void;
    more: boolean;
    /** Whether there is more to set than stands there on a wide screen. */
    folds?: boolean;
    set: Snippet;
    beside?: Snippet;
    fields: Snippet;
  }

  let {
    label,
    shown,
    lower,
    higher,
    stop,
    onwheel,
    more = $bindable(),
    folds = false,
    set,
    beside,
    fields,
  }: Props = $props();
</script>

<section aria-label={label} class:more>
  <div class="now" {onwheel}>
    <button class="step" aria-label={lower.label} onclick={lower.run}>−</button>
    <p>{@render set()}</p>
    <button class="step" aria-label={higher.label} onclick={higher.run}>+</button>
  </div>
  {@render beside?.()}
  <div class="fields">{@render fields()}</div>
  <p class="ways">
    <button class="act" class:narrow={!folds} aria-expanded={more} onclick={() => (more = !more)}
      >{more ? 'fewer settings' : 'more settings'}</button
    >
    <button class="act" onclick={stop}><Key {shown} />stop</button>
  </p>
</section>

<style>
  section {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.4rem 1.6rem;
  }

  .now {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.6rem;
  }

  .now :global(strong) {
    font-family: var(--font-note);
    font-size: 2.5rem;
    line-height: 1;
    font-variant-numeric: tabular-nums;
  }

  .step {
    width: 3rem;
    height: 3rem;
    border: 2px solid var(--line);
    border-radius: 6px;
    font-size: 1.5rem;
    cursor: pointer;
  }

  .fields {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem 1rem;
  }

  .fields :global(.input[type='number']) {
    width: 7rem;
  }

  .ways {
    display: flex;
    flex-wrap: wrap;
    gap: 0.2rem 1.4rem;
    margin-left: auto;
  }

  .narrow {
    display: none;
  }

  @media (max-width: 760px) {
    .narrow {
      display: inline-flex;
    }

    section:not(.more) .fields {
      display: none;
    }
  }
</style>
