<script lang="ts">
  import { soundPath, type KeptAt } from './kept';

  /** A sound and what was heard in it, as files. */
  interface Props {
    kept: KeptAt;
    name: string;
    /** Whether what was heard may be seen yet. */
    heard?: boolean;
  }

  let { kept, name, heard = true }: Props = $props();

  const heardPath = $derived(`/api/${kept.kind}/${kept.id}/heard`);
</script>

<p>
  <a class="act" href={soundPath(kept)} download="{name}.flac">Save the sound (FLAC)</a>
  {#if heard}
    <a class="act" href="{heardPath}.mid" download aria-label="Save what was heard as MIDI">MIDI</a>
    <a
      class="act"
      href="{heardPath}.musicxml"
      download
      aria-label="Save what was heard as MusicXML"
    >
      MusicXML
    </a>
  {/if}
</p>

<style>
  p {
    display: flex;
    flex-wrap: wrap;
    gap: 0 1.2rem;
  }
</style>
