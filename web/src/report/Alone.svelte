<script lang="ts">
  import type { Schemas } from '../api/client';
  import Foot from '../parts/Foot.svelte';
  import { keyboard } from '../parts/keys.svelte';
  import Reading from './Reading.svelte';

  /** A report in a page of its own, with all it needs beside it. */
  let { report }: { report: Schemas['ReportOut'] } = $props();
</script>

<svelte:window onkeydown={(event) => keyboard.press(event)} />

<main class="view wide">
  <div class="content"><Reading {report} soundOf={(id) => `takes/${id}.flac`} /></div>
  <Foot />
</main>

<style>
  .content {
    flex: 1;
    padding-top: 1.4rem;
  }
</style>
