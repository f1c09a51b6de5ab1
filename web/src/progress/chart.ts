/** How high a picture is in a room of some width, alone or as one of several. */
export function heightIn(width: number, small: boolean): number {
  if (small) return 230;
  return width < 560 ? 300 : 460;
}
