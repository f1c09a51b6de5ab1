/** What this browser keeps of a player, each thing under a key of its own with their number in it. */

/** What they set an exercise of the book to. */
export function bookKey(playerId: number, family: string): string {
  return `orexis-book-${playerId}-${family}`;
}

/** What they wrote for a report. */
export function reportWordsKey(playerId: number): string {
  return `orexis-report-words-${playerId}`;
}

const OF_A_PLAYER = /^orexis-(?:book|report-words)-(\d+)(?:-|$)/;

/** Drops what is kept of anybody but some players: who was deleted leaves nothing here, and a
 * number that comes again finds nothing. */
export function keepOnly(playerIds: number[], storage: Storage = localStorage): void {
  const keys = Array.from({ length: storage.length }, (_, at) => storage.key(at) ?? '');
  for (const key of keys) {
    const of = OF_A_PLAYER.exec(key);
    if (of && !playerIds.includes(Number(of[1]))) storage.removeItem(key);
  }
}
