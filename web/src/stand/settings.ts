import type { Opening } from '../audio/line';
import type { Exercise } from './exercise';

/** What a player's Stand was set to last, kept in this browser. */
export type Source = Opening['source'];

export interface Settings {
  source?: Source;
  exercise?: Exercise;
}

const keyOf = (playerId: number) => `orexis-stand-${playerId}`;

export function settingsOf(playerId: number): Settings {
  try {
    return JSON.parse(localStorage.getItem(keyOf(playerId)) ?? '{}');
  } catch {
    return {};
  }
}

export function keepSettings(playerId: number, settings: Settings): void {
  localStorage.setItem(keyOf(playerId), JSON.stringify(settings));
}

/** Puts an exercise on a player's Stand for when they come to it. */
export function putOnStand(playerId: number, exercise: Exercise): void {
  keepSettings(playerId, { ...settingsOf(playerId), exercise });
}
