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
