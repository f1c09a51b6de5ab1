<script lang="ts">
  import { onMount, untrack } from 'svelte';
  import { known } from '../api/fields.svelte';
  import Key from '../parts/Key.svelte';

  /** Asks for the name that an exercise is kept under. */
  interface Props {
    /** What it could be called. */
    name: string;
    onname: (name: string) => void;
    onleave: () => void;
  }

  let { name, onname, onleave }: Props = $props();

  let typed = $state(untrack(() => name));
  let field = $state<HTMLInputElement>();

  onMount(() => field?.select());

  function keep(event: SubmitEvent) {
    event.preventDefault();
    onname(typed);
  }
</script>

<form aria-label="Its name" onsubmit={keep}>
  <label>
    What is it called?
    <input
      bind:this={field}
      bind:value={typed}
      class="input"
      maxlength={known.fields.own.name?.longest}
      required
    />
  </label>
  <button class="act-main">Keep it<Key shown="Enter" /></button>
  <button type="button" class="act" onclick={onleave}><Key shown="Esc" />not now</button>
</form>

<style>
  form {
    display: flex;
    flex-wrap: wrap;
    align-items: end;
    gap: 0.6rem 1.2rem;
    padding-bottom: 1rem;
  }

  @media print {
    form {
      display: none;
    }
  }
</style>
