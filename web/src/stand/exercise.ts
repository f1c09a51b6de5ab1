import type { Field } from '../api/client';
import { known } from '../api/fields.svelte';

/** An exercise: a family and what is set of it; what is not set is as usual. */
export interface Exercise {
  family: string;
  values: Record<string, string>;
}

/** A note (sounding) to practise by itself. */
export function oneNote(midi?: number): Exercise {
  const { family, key } = known.fields.one_note;
  return { family, values: midi === undefined ? {} : { [key]: String(midi) } };
}

/** What a field is set to after a step up (1) or down (−1); null at its end. Choices stand with the
 * highest first. */
export function turned(field: Field, value: string, way: 1 | -1): string | null {
  if (field.choices.length) {
    const at = field.choices.findIndex((choice) => choice.value === value);
    return field.choices[at - way]?.value ?? null;
  }
  const next = Number(value) + way * (field.step ?? 1);
  const inside = next >= (field.least ?? -Infinity) && next <= (field.most ?? Infinity);
  return inside ? String(next) : null;
}
