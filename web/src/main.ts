import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/bricolage-grotesque';
import { mount } from 'svelte';
import './app.css';
import App from './shell/App.svelte';

const target = document.getElementById('app');
if (target) mount(App, { target });
