/** The places of the app, in the order of a day; only those that exist are listed. */
import type { RouteDefinition } from 'svelte-spa-router';
import { wrap } from 'svelte-spa-router/wrap';
import Book from '../book/Book.svelte';
import Exercise from '../book/Exercise.svelte';
import Own from '../book/Own.svelte';
import About from '../today/About.svelte';
import Free from '../free/Free.svelte';
import Horn from '../horn/Horn.svelte';
import HornSetup from '../horn/HornSetup.svelte';
import Players from '../players/Players.svelte';
import Programmes from '../today/Programmes.svelte';
import Recording from '../takes/Recording.svelte';
import Schools from '../today/Schools.svelte';
import Stand from '../stand/Stand.svelte';
import Take from '../takes/Take.svelte';
import Takes from '../takes/Takes.svelte';
import Today from '../today/Today.svelte';

export interface Place {
  path: string;
  name: string;
}

export const PLACES: Place[] = [
  { path: '/today', name: 'Today' },
  { path: '/stand', name: 'Stand' },
  { path: '/takes', name: 'Takes' },
  { path: '/horn', name: 'Horn' },
  { path: '/book', name: 'Book' },
  { path: '/progress', name: 'Progress' },
  { path: '/free', name: 'Free' },
];

export const routes: RouteDefinition = {
  '/today': Today,
  '/about': About,
  '/approaches': Schools,
  '/programmes': Programmes,
  '/stand': Stand,
  '/takes': Takes,
  '/takes/:id': Take,
  '/recordings/:id': Recording,
  '/free': Free,
  '/horn': Horn,
  '/horn/mine': HornSetup,
  '/book': Book,
  '/book/:family': Exercise,
  '/own/:id': Own,
  // Its charts are needed by nobody who plays.
  '/progress': wrap({ asyncComponent: () => import('../progress/Range.svelte') }),
  '/progress/changes': wrap({ asyncComponent: () => import('../progress/Changes.svelte') }),
  '/progress/days': wrap({ asyncComponent: () => import('../progress/Days.svelte') }),
  '/progress/away': wrap({ asyncComponent: () => import('../progress/Away.svelte') }),
  '/progress/in': wrap({ asyncComponent: () => import('../progress/BringIn.svelte') }),
  '/progress/storage': wrap({ asyncComponent: () => import('../progress/Storage.svelte') }),
  '/progress/report': wrap({ asyncComponent: () => import('../report/Making.svelte') }),
  '/guests/:id': wrap({ asyncComponent: () => import('../report/Guest.svelte') }),
  '/players': Players,
  '*': Today,
};
