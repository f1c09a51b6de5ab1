/** A spot in a take of a report, and what is said of it. */
export interface SaidMark {
  take_id: string;
  at_s: number;
  words: string;
}

/** What goes back to the player: `orexis.words/1` in docs/formats.md. */
export interface SaidWords {
  schema: 'orexis.words/1';
  said_by: string;
  words: string;
  marks: SaidMark[];
}

/** What a reader says of a report: their words, and bookmarks in its takes. */
export class Saying {
  saidBy = $state('');
  words = $state('');
  marks = $state<SaidMark[]>([]);

  /** Whether there is anything to give back, and who says it. */
  get whole(): boolean {
    return this.saidBy.trim() !== '' && (this.words.trim() !== '' || this.marks.length > 0);
  }

  bookmark(take_id: string, at_s: number, words: string): void {
    const mark = { take_id, at_s: Math.round(at_s * 100) / 100, words: words.trim() };
    this.marks = [...this.marks, mark].sort((a, b) => a.at_s - b.at_s);
  }

  removeBookmark(mark: SaidMark): void {
    this.marks = this.marks.filter((one) => one !== mark);
  }

  document(): SaidWords {
    const { saidBy, words, marks } = this;
    return {
      schema: 'orexis.words/1',
      said_by: saidBy.trim(),
      words: words.trim(),
      marks: $state.snapshot(marks),
    };
  }
}

/** Saves a file that was made here. */
export function saveFile(content: Blob, name: string): void {
  const address = URL.createObjectURL(content);
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
  URL.revokeObjectURL(address);
}
