/** How a rule's number is drawn beside its limit. */
import type { RuleLine } from '../api/client';

/** Where along its scale the limit stands. */
export const TICK = 0.62;

/** How far along its scale a rule's number comes. */
export const shareOf = ({ measured, limit }: RuleLine): number =>
  Math.min(1, (Math.abs(measured) / limit) * TICK);
