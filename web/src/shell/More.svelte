<script lang="ts">
  import Dialog from '../parts/Dialog.svelte';
  import { theme } from '../parts/theme.svelte';
  import { who } from '../players/who.svelte';
  import { drone } from '../sounding/drone.svelte';
  import { metronome } from '../sounding/metronome.svelte';
  import { PLACES } from './routes';

  /** What there is no room for at the foot of a phone. */
  let { open = $bindable(), onlegend }: { open: boolean; onlegend: () => void } = $props();
</script>

<Dialog bind:open title="More">
  <ul class="list">
    {#each PLACES.filter(({ picture }) => !picture) as place (place.path)}
      <li><a href="#{place.path}" onclick={() => (open = false)}>{place.name}</a></li>
    {/each}
    <li>
      <a href="#/players" onclick={() => (open = false)}
        >Who plays? {who.player ? `Now ${who.player.name}` : ''}</a
      >
    </li>
    <li>
      <button
        onclick={() => {
          open = false;
          metronome.toggle();
        }}
        disabled={metronome.barred}>Metronome</button
      >
    </li>
    <li>
      <button
        onclick={() => {
          open = false;
          drone.toggle(who.player);
        }}
        disabled={drone.barred}>Drone</button
      >
    </li>
    <li><a href="#/devices" onclick={() => (open = false)}>Phones and tablets</a></li>
    <li><a href="#/guide" onclick={() => (open = false)}>Guide</a></li>
    <li><button onclick={() => ((open = false), onlegend())}>Reading the ribbon</button></li>
    <li>
      <button onclick={() => theme.toggle()}>{theme.mode === 'dark' ? 'Light' : 'Dark'}</button>
    </li>
  </ul>
</Dialog>

<style>
  .list a,
  .list button {
    display: flex;
    align-items: center;
    min-width: 16rem;
    min-height: 3rem;
    font-size: 1.25rem;
    cursor: pointer;
  }
</style>
