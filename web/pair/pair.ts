import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/bricolage-grotesque';
import { mount } from 'svelte';
import '../src/app.css';
import Pair from '../src/home/Pair.svelte';

const target = document.getElementById('app');
if (target) mount(Pair, { target });
