import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/bricolage-grotesque';
import { mount } from 'svelte';
import './app.css';
import App from './shell/App.svelte';

const target = document.getElementById('app');
if (target) {
  // What was painted while this loaded.
  target.replaceChildren();
  mount(App, { target });
}

// On a device of the house; at the computer itself the terminal says why nothing answers.
if (location.protocol === 'https:') void navigator.serviceWorker?.register('/offline.js');
