/** What can be opened in the book, and finding in it. */

export interface Entry {
  path: string;
  title: string;
  words: string;
  /** Why it is not for today, or not on this horn. */
  not: string;
  off: boolean;
  family: string;
  values: Record<string, string>;
  /** Where one is on its path, when it was last played, and what it needs. */
  facts: string[];
  register: string | null;
  minutes: number;
}

export interface Section {
  name: string;
  entries: Entry[];
}

/** What is looked for: words, a part of the day, the register of the highest note, and how many
 * minutes at most; what is empty or 0 is not asked for. */
export interface Sought {
  words: string;
  part: string;
  register: string;
  minutes: number;
}

export const ANYTHING: Sought = { words: '', part: '', register: '', minutes: 0 };

export function isAnything(sought: Sought): boolean {
  return !sought.words && !sought.part && !sought.register && !sought.minutes;
}

/** What is left of the book by what is looked for. */
export function found(everything: Section[], sought: Sought): Section[] {
  const words = sought.words.toLowerCase().split(/\s+/);
  return everything
    .filter(({ name }) => !sought.part || sought.part === name)
    .map(({ name, entries }) => ({
      name,
      entries: entries.filter((one) => {
        const text = `${name} ${one.title} ${one.words}`.toLowerCase();
        return (
          words.every((word) => text.includes(word)) &&
          (!sought.register || sought.register === one.register) &&
          (!sought.minutes || one.minutes <= sought.minutes)
        );
      }),
    }))
    .filter(({ entries }) => entries.length);
}

/** The registers that highest notes lie in, in the order of the book. */
export function registersOf(everything: Section[]): string[] {
  return [
    ...new Set(everything.flatMap(({ entries }) => entries.flatMap((one) => one.register ?? []))),
  ];
}
