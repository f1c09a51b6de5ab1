import { expect, test } from 'vitest';
import { found, SECTIONS, sectionsOf } from './guide';
import { sectionFor } from './places';

const TEXT =
  '# Title\n\n## One thing\n\nPress <kbd>8</kbd>, see [there](x.md).\n\n## Another\n\n**Bold**\n';

test('a guide is read in its sections', () => {
  const sections = sectionsOf(TEXT);
  expect(sections.map(({ title, id }) => [title, id])).toEqual([
    ['One thing', 'one-thing'],
    ['Another', 'another'],
  ]);
  expect(sections[0]?.html).toContain('<kbd>8</kbd>, see there.');
});

test('what is looked for is found by all of its words, wherever they stand', () => {
  const sections = sectionsOf(TEXT);
  expect(found(sections, 'press THING').map(({ id }) => id)).toEqual(['one-thing']);
  expect(found(sections, 'press bold')).toEqual([]);
  expect(found(sections, ' ')).toEqual(sections);
});

test('every place leads to a section that there is', () => {
  const ids = SECTIONS.map(({ id }) => id);
  for (const path of ['/today', '/stand', '/takes/3', '/horn', '/book', '/progress', '/free', '/'])
    expect(ids).toContain(sectionFor(path));
});
