/** Where the slots go: pixels for cents (100 a MIDI number). Every number comes from the server. */
import type { Band as Slot } from '../api/client';

export interface Band {
  slot: Slot;
  top: number;
  bottom: number;
  middle: number;
}

export interface Layout {
  width: number;
  height: number;
  left: number;
  bottom: number;
  bands: Band[];
  /** The one slot that is asked for, drawn large; none where there are more or none. */
  asked: Slot | null;
  /** What lies above and below this is high and low. */
  middleCents: number;
  y: (cents: number) => number;
}

/** How far the slot asked for reaches, in cents either way. */
export const SHOWN_CENTS = 30;
const NEIGHBOUR_HEIGHT = 26;
const NEIGHBOUR_GAP = 18;
const NEIGHBOUR_CENTS = 40;
const FOOT = 34;
const LOW_VIEW = 400;
const RANGE_HALF_CENTS = 50;
const RANGE_LEAST_CENTS = 600;
const RANGE_MARGIN = 26;
const NAME_HEIGHT = 18;

/** The slots about the one that is asked for, or, where that is not one, a range. */
export function layOut(
  slots: Slot[],
  width: number,
  height: number,
  range?: [number, number],
): Layout {
  const asked = slots.filter((slot) => slot.asked);
  if (asked.length === 1 && asked[0]) return layOutAsked(slots, asked[0], width, height);
  const pitches = slots.map((slot) => slot.pitch_cents);
  const whole: [number, number] = pitches.length
    ? [Math.min(...pitches), Math.max(...pitches)]
    : [0, 0];
  return layOutRange(slots, width, height, range ?? whole);
}

/** Where everything goes; slots come highest first. A low view shows only the nearest ones. */
function layOutAsked(all: Slot[], target: Slot, width: number, height: number): Layout {
  const left = width < 520 ? 72 : 84;
  const middle = all.indexOf(target);
  const slots = height < LOW_VIEW ? all.slice(Math.max(0, middle - 1), middle + 2) : all;
  const asked = slots.indexOf(target);
  const step = NEIGHBOUR_HEIGHT + NEIGHBOUR_GAP;
  const above = Math.max(asked, 0);
  const below = slots.length - 1 - above;
  const top = 6 + above * step + (above ? 22 : 10);
  const bottom = height - FOOT - below * step - (below ? 22 : 10);
  const bands = slots.map((slot, i): Band => {
    if (i === above) return { slot, top, bottom, middle: (top + bottom) / 2 };
    const bandTop = i < above ? 6 + i * step : bottom + 22 + NEIGHBOUR_GAP + (i - above - 1) * step;
    return {
      slot,
      top: bandTop,
      bottom: bandTop + NEIGHBOUR_HEIGHT,
      middle: bandTop + NEIGHBOUR_HEIGHT / 2,
    };
  });
  const anchors: [number, number][] = bands
    .flatMap((band, i): [number, number][] => {
      const reach = i === above ? SHOWN_CENTS : NEIGHBOUR_CENTS;
      const middle = band.slot.pitch_cents;
      return [
        [middle + reach, band.top],
        [middle - reach, band.bottom],
      ];
    })
    .reverse();
  return {
    width,
    height,
    left,
    bottom: height - FOOT,
    bands,
    asked: target,
    middleCents: target.pitch_cents,
    y: interpolator(anchors, height),
  };
}

/** Piecewise straight lines through [cents, y], the same slope beyond the ends, kept in view. */
function interpolator(anchors: [number, number][], height: number): (cents: number) => number {
  return (cents) => {
    let i = 1;
    while (i < anchors.length - 1 && cents > (anchors[i]?.[0] ?? 0)) i++;
    const [c0, y0] = anchors[i - 1] ?? [0, 0];
    const [c1, y1] = anchors[i] ?? [1, 0];
    const y = y0 + ((cents - c0) / (c1 - c0)) * (y1 - y0);
    return Math.max(2, Math.min(height - FOOT, y));
  };
}

/** Notes where they lie, evenly: a half step is the same height everywhere. */
function layOutRange(
  slots: Slot[],
  width: number,
  height: number,
  [lowest, highest]: [number, number],
): Layout {
  const left = width < 520 ? 72 : 84;
  const middle = (lowest + highest) / 2;
  const half = Math.max(RANGE_LEAST_CENTS, highest - lowest) / 2 + RANGE_HALF_CENTS;
  const foot = height - FOOT - RANGE_MARGIN;
  const perCent = (foot - RANGE_MARGIN) / (2 * half);
  const y = (cents: number) =>
    Math.max(2, Math.min(height - FOOT, RANGE_MARGIN + (middle + half - cents) * perCent));
  let lastNamed = -Infinity;
  const bands = slots.map((slot): Band => {
    const middle = y(slot.pitch_cents);
    const reach = Math.min(RANGE_HALF_CENTS * perCent, NEIGHBOUR_HEIGHT / 2);
    const named = middle - lastNamed >= NAME_HEIGHT;
    if (named) lastNamed = middle;
    const shown = named ? slot : { ...slot, name: '' };
    return { slot: shown, top: middle - reach, bottom: middle + reach, middle };
  });
  return { width, height, left, bottom: height - FOOT, bands, asked: null, middleCents: middle, y };
}
