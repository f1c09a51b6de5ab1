<script lang="ts">
  import { FileUpload } from '@skeletonlabs/skeleton-svelte';
  import type { Snippet } from 'svelte';

  /** A button that lets one choose files; `open` does the same by key. */
  interface Props {
    /** What the files are, for those who hear the page. */
    label: string;
    /** Endings and kinds, as `accept` of a file input has them. */
    accept: string;
    many?: boolean;
    disabled?: boolean;
    children: Snippet;
    onchoose: (files: File[]) => void;
  }

  let { label, accept, many = false, disabled = false, children, onchoose }: Props = $props();

  let box = $state<HTMLElement>();

  export function open(): void {
    box?.querySelector<HTMLInputElement>('input[type=file]')?.click();
  }

  let last: File[] = [];

  /** By the input's own event, so that the same file can be chosen again. */
  function choose(event: Event) {
    const input = event.target;
    if (!(input instanceof HTMLInputElement) || !input.files?.length) return;
    const files = [...input.files];
    input.value = '';
    // The component says the same choice a second time; a file that is chosen anew is another.
    if (files.length === last.length && files.every((file, i) => file === last[i])) return;
    last = files;
    onchoose(files);
  }
</script>

<span bind:this={box} onchange={choose}>
  <FileUpload {accept} maxFiles={many ? 100 : 1} {disabled}>
    <FileUpload.Trigger class="act">{@render children()}</FileUpload.Trigger>
    <FileUpload.HiddenInput aria-label={label} />
  </FileUpload>
</span>
