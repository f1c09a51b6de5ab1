/** Where things stand on the map: lengths across, pitch up. */
import type { Horn, HornLength } from '../api/client';

export const FOOT = 72;
const WIDEST_COLUMN = 104;
const NARROWEST_COLUMN = 27;
const TALLEST_ROW = 21;
const LOWEST_ROW = 15;
const ROWS_IN_VIEW = 32;
const MOST_COLUMNS = 16;

export interface Column {
  length: HornLength;
  x: number;
  width: number;
  /** What it shares with its neighbours: its trigger, or the side. */
  group: string;
}

/** The lengths to draw: all when there is room, else those that are learned. */
export function lengthsShown(horn: Horn, all: boolean): HornLength[] {
  const there = horn.lengths.filter((length) => length.reaches);
  if (all || horn.is_slide || there.length <= MOST_COLUMNS) return there;
  return there.filter((length) => length.learned);
}

export function columnsOf(lengths: HornLength[], width: number): Column[] {
  const column = Math.max(
    NARROWEST_COLUMN,
    Math.min(WIDEST_COLUMN, Math.floor(width / lengths.length)),
  );
  return lengths.map((length, i) => ({
    length,
    x: i * column,
    width: column,
    group: length.thumb ? 'thumb' : length.triggers.join(' '),
  }));
}

export function rowHeight(height: number): number {
  return Math.max(LOWEST_ROW, Math.min(TALLEST_ROW, height / ROWS_IN_VIEW));
}

/** Neighbouring columns of one group, as what to write and where. */
export function groupsOf(columns: Column[]): { name: string; x: number; width: number }[] {
  const groups: { name: string; x: number; width: number }[] = [];
  for (const { group, x, width } of columns) {
    const last = groups.at(-1);
    if (last && last.name === group) last.width += width;
    else groups.push({ name: group, x, width });
  }
  return groups.length > 1 ? groups : [];
}
