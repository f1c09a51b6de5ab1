/** What is drawn: stretches of sound with their marks, and the colours they are drawn in. */

/** Something to point at, at a frame; `side` says which way it was off, where that is the point. */
export interface Mark {
  frame: number;
  pitch_cents: number;
  words: string;
  short: string;
  side: 'low' | 'high' | null;
  weight: number;
}

/** One stretch to draw: frames `from` up to `to` (or to the newest), beginning at `startS`. */
export interface Stretch {
  from: number;
  to: number | null;
  label: string;
  marks: Mark[];
  pale: boolean;
  /** How many marks may have words; the heaviest get them, and others stand as points. */
  most?: number;
}

export interface Colours {
  paper: string;
  sheet: string;
  ink: string;
  dim: string;
  line: string;
  asked: string;
  tint: string;
  sound: string;
  low: string;
  high: string;
  noteFont: string;
  textFont: string;
}
