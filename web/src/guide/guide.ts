/** The guide for players, in its sections: the same text that stands in the documentation. */
import { Marked } from 'marked';
import text from '../../../docs/guide.md?raw';
import { idOf } from './places';

export interface Section {
  /** What it is called, and how addresses have that. */
  title: string;
  id: string;
  html: string;
  /** All its words, in lower case, to be looked through. */
  words: string;
}

const marked = new Marked({
  renderer: {
    // What it points to stands beside the program's text, not in the application.
    link: ({ text }) => text,
  },
});

export function sectionsOf(markdown: string): Section[] {
  return markdown
    .split(/^## /m)
    .slice(1)
    .map((section) => {
      const [title = '', ...lines] = section.split('\n');
      const body = lines.join('\n');
      return {
        title,
        id: idOf(title),
        html: marked.parse(body, { async: false }),
        words: `${title}\n${body}`.replace(/<\/?kbd>|[*|]/g, '').toLowerCase(),
      };
    });
}

export const SECTIONS = sectionsOf(text);

/** The sections that have all of some words. */
export function found(sections: Section[], asked: string): Section[] {
  const wanted = asked.toLowerCase().split(/\s+/).filter(Boolean);
  return sections.filter(({ words }) => wanted.every((word) => words.includes(word)));
}
