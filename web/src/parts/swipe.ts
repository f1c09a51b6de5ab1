/** A finger drawn across the page: to the left for what comes next, to the right for what was. */
export type Swipe = 'left' | 'right';

const FARTHEST_MS = 700;
const LEAST_PX = 70;
/** It goes across: so many times as far as up or down. */
const ACROSS = 2;

interface Touch {
  x: number;
  y: number;
  at: number;
}

/** Which way a finger went from one place to another, `null` where that was no swipe. */
export function swipeOf(from: Touch, to: Touch): Swipe | null {
  const [right, down] = [to.x - from.x, to.y - from.y];
  if (to.at - from.at > FARTHEST_MS) return null;
  if (Math.abs(right) < LEAST_PX || Math.abs(right) < ACROSS * Math.abs(down)) return null;
  return right < 0 ? 'left' : 'right';
}

/** Listens for swipes on an element; not on what itself is moved across, and not of two fingers. */
export function swipes(onswipe: (way: Swipe) => void): (node: HTMLElement) => () => void {
  return (node) => {
    let from: Touch | null = null;
    const start = (event: TouchEvent) => {
      const touch = event.touches.length === 1 ? event.touches[0] : undefined;
      from = touch && !movesItself(event.target) ? placeOf(touch, event) : null;
    };
    const end = (event: TouchEvent) => {
      const touch = event.changedTouches[0];
      const way = from && touch ? swipeOf(from, placeOf(touch, event)) : null;
      from = null;
      if (way) onswipe(way);
    };
    node.addEventListener('touchstart', start, { passive: true });
    node.addEventListener('touchend', end, { passive: true });
    return () => {
      node.removeEventListener('touchstart', start);
      node.removeEventListener('touchend', end);
    };
  };
}

function placeOf({ clientX, clientY }: globalThis.Touch, { timeStamp }: TouchEvent): Touch {
  return { x: clientX, y: clientY, at: timeStamp };
}

function movesItself(target: EventTarget | null): boolean {
  for (let node = target instanceof Element ? target : null; node; node = node.parentElement) {
    if (node.matches('[role="slider"], input, select, textarea')) return true;
    if (node.scrollWidth > node.clientWidth + 1 && getComputedStyle(node).overflowX !== 'visible') {
      return node.tagName !== 'MAIN' && node.tagName !== 'BODY' && node.tagName !== 'HTML';
    }
  }
  return false;
}
