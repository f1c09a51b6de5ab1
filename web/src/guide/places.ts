/** Which section of the guide tells of a place. */
export const idOf = (title: string): string => title.toLowerCase().replaceAll(' ', '-');

/** Where to read on, by the place one is at. */
const BY_PLACE: Record<string, string> = {
  '/today': 'A day with Orexis',
  '/stand': 'A session',
  '/takes': 'Listening back',
  '/recordings': 'Listening back',
  '/horn': 'If something does not work',
  '/book': 'How the coach decides',
  '/progress': 'Listening back',
  '/free': 'Your first note',
  '/devices': 'Phones and tablets',
};

export function sectionFor(location: string): string {
  const place = Object.keys(BY_PLACE).find((path) => location.startsWith(path));
  return idOf(BY_PLACE[place ?? ''] ?? 'Your first note');
}
