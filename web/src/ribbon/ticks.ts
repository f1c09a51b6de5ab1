const STEPS_S = [1, 2, 5, 10, 30, 60, 120, 300, 600];
const NARROWEST_PX = 40;
const IN_SECONDS_TO_S = 120;

/** How many seconds lie between two ticks of a time axis that has so many pixels a second. */
export function tickStep(perSecond: number): number {
  return STEPS_S.find((step) => step * perSecond >= NARROWEST_PX) ?? 600;
}

/** What stands at a tick of a sound of so many seconds: seconds, or minutes and seconds. */
export function tickLabel(seconds: number, lengthS: number): string {
  if (lengthS <= IN_SECONDS_TO_S) return `${seconds} s`;
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
}
