/** The places of the app, in the order of a day; only those that exist are listed. */
import type { RouteDefinition } from 'svelte-spa-router';
import Horn from './Horn.svelte';
import HornSetup from './HornSetup.svelte';
import Players from './Players.svelte';
import Recording from './Recording.svelte';
import Stand from './Stand.svelte';
import Take from './Take.svelte';
import Takes from './Takes.svelte';

export interface Place {
  path: string;
  name: string;
}

export const PLACES: Place[] = [
  { path: '/stand', name: 'Stand' },
  { path: '/takes', name: 'Takes' },
  { path: '/horn', name: 'Horn' },
];

export const routes: RouteDefinition = {
  '/stand': Stand,
  '/takes': Takes,
  '/takes/:id': Take,
  '/recordings/:id': Recording,
  '/horn': Horn,
  '/horn/mine': HornSetup,
  '/players': Players,
  '*': Stand,
};
