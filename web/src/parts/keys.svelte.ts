import type { Swipe } from './swipe';

/** Something the player can do, and the key that does it. */
export interface Action {
  /** `KeyboardEvent.key` values; letters in lower case. */
  keys: string[];
  /** The key as it is shown. */
  shown: string;
  label: string;
  run: () => void;
  /** Only in the list of all keys, not at the foot. */
  quiet?: boolean;
  disabled?: boolean;
  /** The swipe that does it too. */
  swipe?: Swipe;
}

class Keyboard {
  view = $state.raw<Action[]>([]);
  everywhere = $state.raw<Action[]>([]);

  press(event: KeyboardEvent): void {
    if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey) return;
    if (belongsToControl(event)) return;
    const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    const action = [...this.view, ...this.everywhere].find(
      (candidate) => candidate.keys.includes(key) && !candidate.disabled,
    );
    if (action) {
      event.preventDefault();
      action.run();
    }
  }

  swiped(way: Swipe): void {
    this.view.find((one) => one.swipe === way && !one.disabled)?.run();
  }
}

export const keyboard = new Keyboard();

/** Offers actions while a view is shown; call while the component is made. */
export function offer(actions: () => Action[]): void {
  $effect(() => {
    const mine = actions();
    keyboard.view = mine;
    return () => {
      if (keyboard.view === mine) keyboard.view = [];
    };
  });
}

/** Keys that the focused control needs for itself: typing, sliding, choosing, pressing. */
function belongsToControl({ key, target }: KeyboardEvent): boolean {
  if (!(target instanceof Element)) return false;
  if (document.querySelector('[role="dialog"][data-state="open"]')) return true;
  // Whatever is being filled in, Esc leaves it.
  if (key === 'Escape') return false;
  // Browsers send a form from its inputs alone.
  if (key === 'Enter' && target.closest('select')) return false;
  if (target.closest('textarea, select, input:not([type="radio"], [type="range"])')) return true;
  if (target.closest('[role="slider"], [type="radio"], [type="range"]')) {
    return key.startsWith('Arrow') || ['Home', 'End', 'PageUp', 'PageDown'].includes(key);
  }
  return (key === ' ' || key === 'Enter') && target.closest('button, a, summary') !== null;
}
