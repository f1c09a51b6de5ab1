<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, type Schemas } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import View from '../parts/View.svelte';
  import Reading from './Reading.svelte';

  /** A report of somebody else's that was opened here: read only. */
  let { params }: { params: { id: string } } = $props();

  const guest_id = untrack(() => params.id);
  const report = new Loaded<Schemas['ReportOut']>((signal) =>
    answer(api.GET('/api/guests/{guest_id}', { params: { path: { guest_id } }, signal })),
  );
  void report.load();

  const leave = {
    keys: ['Escape'],
    shown: 'Esc',
    label: 'to who plays',
    run: () => void push('/players'),
  };
</script>

<View wide problem={report.problem} retry={() => void report.load()}>
  {#if report.value}
    <div class="content">
      <p class="dim">A guest's report: nothing here changes it.</p>
      <Reading
        report={report.value}
        soundOf={(id) => `/api/guests/${guest_id}/takes/${id}/sound`}
        more={[leave]}
      />
    </div>
  {/if}
</View>

<style>
  .content {
    flex: 1;
    padding-top: 1.4rem;
  }
</style>
