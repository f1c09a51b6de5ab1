<script lang="ts">
  import type { Field } from '../api/client';

  /**
   * A field to set, drawn from what the server says of it: a text, a number with its unit and
   * bounds, or a choice. `value` is what is set.
   */
  interface Props {
    field: Field;
    value: string | number | null | undefined;
    /** Where the choices depend on something else; those there are no choice now are `off`. */
    choices?: { value: string | number; label: string; off?: boolean; group?: string }[];
    required?: boolean;
    /** What counts while nothing is set. */
    usual?: string;
    note?: string;
    onchange?: () => void;
    /** While it is typed or stepped, or when it is chosen. */
    oninput?: () => void;
  }

  let {
    field,
    value = $bindable(),
    choices,
    required = true,
    usual,
    note,
    onchange,
    oninput,
  }: Props = $props();

  const offered = $derived(choices ?? (field.choices.length ? field.choices : null));
  const groups = $derived([
    ...new Set((choices ?? []).flatMap(({ group }) => (group ? [group] : []))),
  ]);
  const number = $derived(field.least !== null || field.most !== null);
</script>

<label>
  <span>
    {field.label}{field.unit && `, ${field.unit}`}
    {#if note}<span class="note">({note})</span>{/if}
  </span>
  {#if offered}
    <select class="select" bind:value {onchange} {oninput}>
      {#if groups.length}
        {#each groups as group (group)}
          <optgroup label={group}>
            {#each (choices ?? []).filter((one) => one.group === group) as one (one.value)}
              <option value={one.value}>{one.label}</option>
            {/each}
          </optgroup>
        {/each}
      {:else}
        {#each offered as one (one.value)}
          <option value={one.value} disabled={'off' in one && one.off}>{one.label}</option>
        {/each}
      {/if}
    </select>
  {:else if number}
    <input
      class="input"
      type="number"
      min={field.least}
      max={field.most}
      step={field.step ?? 'any'}
      placeholder={usual}
      {required}
      bind:value
      {onchange}
      {oninput}
    />
  {:else}
    <input
      class="input"
      maxlength={field.longest}
      placeholder={usual}
      autocomplete="off"
      {required}
      bind:value
      {onchange}
      {oninput}
    />
  {/if}
</label>

<style>
  label {
    display: grid;
    gap: 0.2rem;
    min-width: 0;
    align-content: end;
    color: var(--dim);
  }

  .note {
    font-family: inherit;
    font-weight: 400;
    letter-spacing: 0;
  }
</style>
