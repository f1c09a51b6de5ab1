/** The places of the app, in the order of a day; only those that exist are listed. */
import type { RouteDefinition } from 'svelte-spa-router';
import { wrap } from 'svelte-spa-router/wrap';
import Book from '../book/Book.svelte';
import Exercise from '../book/Exercise.svelte';
import About from '../today/About.svelte';
import Free from '../free/Free.svelte';
import Players from '../players/Players.svelte';
import Stand from '../stand/Stand.svelte';
import Take from '../takes/Take.svelte';
import Takes from '../takes/Takes.svelte';
import Today from '../today/Today.svelte';

export interface Place {
  path: string;
  name: string;
  /** On a phone: its picture, an SVG path in a square of 24; those without one are under More. */
  picture?: string;
}

export const PLACES: Place[] = [
  // A bore that widens.
  { path: '/today', name: 'Today', picture: 'M3 10 L15 9 L21 4 V20 L15 15 L3 14 Z' },
  // A music stand.
  { path: '/stand', name: 'Stand', picture: 'M4 4 H20 L18 12 H6 Z M12 12 V20 M7 20 H17' },
  { path: '/takes', name: 'Takes' },
  { path: '/horn', name: 'Horn' },
  // Two pages.
  { path: '/book', name: 'Book', picture: 'M12 6 L4 4 V18 L12 20 L20 18 V4 Z M12 6 V20' },
  // Columns of air that grow.
  { path: '/progress', name: 'Progress', picture: 'M5 20 V14 M10 20 V10 M15 20 V11 M20 20 V5' },
  // A sound in its slot.
  { path: '/free', name: 'Free', picture: 'M3 12 C7 6 9 18 13 12 S19 8 21 12 M3 20 H21 M3 4 H21' },
];

export const routes: RouteDefinition = {
  '/today': Today,
  '/about': About,
  '/approaches': wrap({ asyncComponent: () => import('../today/Approaches.svelte') }),
  '/programmes': wrap({ asyncComponent: () => import('../today/Programmes.svelte') }),
  '/stand': Stand,
  '/takes': Takes,
  '/takes/:id': Take,
  '/recordings/:id': wrap({ asyncComponent: () => import('../takes/Recording.svelte') }),
  '/free': Free,
  '/free/now': Free,
  '/free/piece/:ownId': Free,
  '/horn': wrap({ asyncComponent: () => import('../horn/Horn.svelte') }),
  '/horn/mine': wrap({ asyncComponent: () => import('../horn/HornSetup.svelte') }),
  '/book': Book,
  '/book/:family': Exercise,
  '/own/:id': wrap({ asyncComponent: () => import('../book/Own.svelte') }),
  // What nobody needs at once is loaded when it is opened.
  '/progress': wrap({ asyncComponent: () => import('../progress/Range.svelte') }),
  '/progress/changes': wrap({ asyncComponent: () => import('../progress/Changes.svelte') }),
  '/progress/days': wrap({ asyncComponent: () => import('../progress/Days.svelte') }),
  '/progress/away': wrap({ asyncComponent: () => import('../progress/Away.svelte') }),
  '/progress/in': wrap({ asyncComponent: () => import('../progress/BringIn.svelte') }),
  '/progress/storage': wrap({ asyncComponent: () => import('../progress/Storage.svelte') }),
  '/progress/report': wrap({ asyncComponent: () => import('../report/Making.svelte') }),
  '/guide/:section?': wrap({ asyncComponent: () => import('../guide/Guide.svelte') }),
  '/guests/:id': wrap({ asyncComponent: () => import('../report/Guest.svelte') }),
  '/players': Players,
  '/devices': wrap({ asyncComponent: () => import('../home/Devices.svelte') }),
  '*': Today,
};
