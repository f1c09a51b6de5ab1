/** The page in a report's zip: it reads what stands beside it, and asks nobody. */
import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/bricolage-grotesque';
import { mount } from 'svelte';
import type { Schemas } from '../api/client';
import '../app.css';
import Alone from './Alone.svelte';

const target = document.getElementById('app');
const said = document.getElementById('report')?.textContent;
if (target && said) {
  mount(Alone, { target, props: { report: JSON.parse(said) as Schemas['ReportOut'] } });
}
