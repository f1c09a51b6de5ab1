<script lang="ts">
  import { parseDate } from '@internationalized/date';
  import { DatePicker, Portal } from '@skeletonlabs/skeleton-svelte';
  import { readDay } from './calendar';
  import { dayOf, fullDay } from './dates';

  /** A day (`YYYY-MM-DD`) to type or to choose from a month; `onchange` is told once it is another
   * one. */
  interface Props {
    label: string;
    value: string;
    min?: string;
    max?: string;
    onchange?: () => void;
  }

  let { label, value = $bindable(), min, max, onchange }: Props = $props();

  const day = (on: string | undefined) => (on ? parseDate(on) : undefined);

  /** What was typed last is no day. */
  let unread = $state(false);

  function choose(chosen: string) {
    unread = false;
    if (chosen === value) return;
    value = chosen;
    onchange?.();
  }

  function read(typed: string) {
    const found = typed.trim() ? readDay(typed) : '';
    const fits = found !== undefined && !(min && found && found < min) && !(max && found > max);
    if (fits) choose(found);
    else unread = true;
  }
</script>

<DatePicker
  class="date-field"
  locale="en-GB"
  startOfWeek={1}
  fixedWeeks
  min={day(min)}
  max={day(max)}
  value={value ? [parseDate(value)] : []}
  onValueChange={(details) => choose(details.value[0]?.toString() ?? '')}
>
  <label>
    <span>{label}</span>
    <input
      class="input"
      placeholder="4 December 2026"
      autocomplete="off"
      aria-invalid={unread}
      value={value && fullDay(dayOf(value))}
      onchange={(event) => read(event.currentTarget.value)}
    />
  </label>
  <DatePicker.Control>
    <DatePicker.Trigger class="act">calendar</DatePicker.Trigger>
  </DatePicker.Control>
  {#if unread}<p role="alert">
      Type a day that can be chosen, such as {fullDay(dayOf(max ?? min ?? '2026-12-04'))}.
    </p>{/if}
  <Portal>
    <DatePicker.Positioner>
      <DatePicker.Content class="date-month">
        <DatePicker.View view="day">
          <DatePicker.Context>
            {#snippet children(picker)}
              <DatePicker.ViewControl class="date-turn">
                <DatePicker.PrevTrigger class="act">‹</DatePicker.PrevTrigger>
                <DatePicker.RangeText />
                <DatePicker.NextTrigger class="act">›</DatePicker.NextTrigger>
              </DatePicker.ViewControl>
              <DatePicker.Table>
                <DatePicker.TableHead>
                  <DatePicker.TableRow>
                    {#each picker().weekDays as weekDay (weekDay.long)}
                      <DatePicker.TableHeader class="dim">{weekDay.short}</DatePicker.TableHeader>
                    {/each}
                  </DatePicker.TableRow>
                </DatePicker.TableHead>
                <DatePicker.TableBody>
                  {#each picker().weeks as week (week[0]?.toString())}
                    <DatePicker.TableRow>
                      {#each week as date (date.toString())}
                        <DatePicker.TableCell value={date}>
                          <DatePicker.TableCellTrigger class="date-day">
                            {date.day}
                          </DatePicker.TableCellTrigger>
                        </DatePicker.TableCell>
                      {/each}
                    </DatePicker.TableRow>
                  {/each}
                </DatePicker.TableBody>
              </DatePicker.Table>
            {/snippet}
          </DatePicker.Context>
        </DatePicker.View>
      </DatePicker.Content>
    </DatePicker.Positioner>
  </Portal>
</DatePicker>

<style>
  :global(.date-field) {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    align-items: end;
    gap: 0.2rem 0.6rem;
    color: var(--dim);
  }

  label {
    display: grid;
    gap: 0.2rem;
  }

  p {
    grid-column: 1 / -1;
  }

  :global(.date-month) {
    z-index: 1;
    padding: 0.8rem 1rem;
    background: var(--sheet);
    color: var(--ink);
    border: 1px solid var(--line);
    border-radius: 6px;
    box-shadow: 0 0.4rem 1.4rem rgb(8 14 12 / 0.25);
  }

  :global(.date-turn) {
    display: flex;
    justify-content: space-between;
    align-items: center;
    font-weight: 700;
  }

  :global(.date-month td),
  :global(.date-month th) {
    padding: 0;
    text-align: center;
    font-weight: 400;
  }

  :global(.date-day) {
    display: grid;
    place-items: center;
    width: 2.9rem;
    height: 2.9rem;
    border-radius: 3px;
    cursor: pointer;
    font-variant-numeric: tabular-nums;
  }

  :global(.date-day:hover),
  :global(.date-day[data-focus]) {
    background: var(--line);
  }

  :global(.date-day[data-today]) {
    font-weight: 700;
    text-decoration: underline;
    text-underline-offset: 0.2em;
  }

  :global(.date-day[data-selected]) {
    background: var(--ink);
    color: var(--paper);
  }

  :global(.date-day[data-outside-range]),
  :global(.date-day[data-disabled]) {
    color: var(--dim);
  }

  :global(.date-day[data-disabled]) {
    cursor: default;
    opacity: 0.45;
  }
</style>
