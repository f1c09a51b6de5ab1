<script lang="ts">
  import type { HornNote } from '../api/client';
  import { CLEFS } from './clefs';

  /** A note on its staff, as the player reads it. */
  let { note }: { note: HornNote } = $props();

  const SPACE = 10;
  /** Which sign each clef draws, and the line it names, in steps above the bottom line. */
  const SIGNS = {
    treble: { sign: CLEFS.g, line: 2 },
    bass: { sign: CLEFS.f, line: 6 },
    alto: { sign: CLEFS.c, line: 4 },
    tenor: { sign: CLEFS.c, line: 6 },
  };
  const ACCIDENTALS = ['', '♯', '𝄪'];

  const y = (steps: number) => 4 * SPACE - (steps * SPACE) / 2;
  const ledgers = $derived.by(() => {
    const found: number[] = [];
    for (let step = -2; step >= note.staff_steps; step -= 2) found.push(step);
    for (let step = 10; step <= note.staff_steps; step += 2) found.push(step);
    return found;
  });
  const top = $derived(Math.min(-18, y(note.staff_steps) - 12));
  const bottom = $derived(Math.max(58, y(note.staff_steps) + 12));
  const sign = $derived(note.alter < 0 ? '♭' : (ACCIDENTALS[note.alter] ?? ''));
</script>

<svg
  viewBox="0 {top} 120 {bottom - top}"
  height={1.1 * (bottom - top)}
  role="img"
  aria-label="{note.name} in {note.clef} clef"
>
  {#each [0, 1, 2, 3, 4] as line (line)}
    <line x1="0" x2="120" y1={line * SPACE} y2={line * SPACE} />
  {/each}
  {#each ledgers as step (step)}
    <line x1="76" x2="104" y1={y(step)} y2={y(step)} class="ledger" />
  {/each}
  <path d={SIGNS[note.clef].sign} transform="translate(4 {y(SIGNS[note.clef].line)})" />
  {#if sign}<text x="60" y={y(note.staff_steps) + 8}>{sign}</text>{/if}
  <ellipse cx="90" cy={y(note.staff_steps)} rx="7.6" ry="5" />
</svg>

<style>
  svg {
    overflow: visible;
  }

  line {
    stroke: var(--dim);
    stroke-width: 1;
  }

  .ledger {
    stroke: var(--ink);
  }

  path {
    fill: var(--ink);
  }

  ellipse {
    fill: none;
    stroke: var(--ink);
    stroke-width: 3;
  }

  text {
    fill: var(--ink);
    font-family: var(--font-text);
    font-size: 27px;
  }
</style>
