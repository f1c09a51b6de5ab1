<script lang="ts">
  import type { Schemas } from '../api/client';
  import type { Answer } from './answers';
  import Curve from './Curve.svelte';
  import RegisterWeeks from './RegisterWeeks.svelte';
  import NoteMap from './NoteMap.svelte';

  /** The picture of an answer, and what its shapes are. */
  interface Props {
    of: Answer;
    marks: Schemas['MarkedOut'][];
    /** Small, as one of several. */
    small?: boolean;
  }

  let { of, marks, small = false }: Props = $props();
</script>

{#if of.along === 'days' || of.along === 'minutes'}
  {#if of.values.length}
    <Curve {of} {marks} {small} />
    <p class="dim">
      {#if of.along === 'days'}
        A dot is a day, the larger the more was played: {of.scale}.
      {:else}
        Along: minutes of playing before it that day; up: {of.scale}.
      {/if}
      {#if of.told && !small}The line lies within its band 19 times of 20.{/if}
    </p>
  {/if}
{:else if of.along === 'notes'}
  <NoteMap {of} {small} />
  <p class="dim">A dot is where a note lies now, a ring where it lay at first: cents.</p>
{:else if of.along === 'weeks'}
  <RegisterWeeks {of} {small} />
  <p class="dim">
    Minutes of playing{(of.rows[0]?.weeks ?? 1) > 1
      ? `, ${of.rows[0]?.weeks} weeks a bar`
      : ' a week'}, by the note that was asked for.
  </p>
{/if}
