import { expect, test } from 'vitest';
import { SYSTEMS, systemOf } from './systems';

const AGENTS = {
  ios: 'Mozilla/5.0 (iPhone; CPU iPhone OS 17_0 like Mac OS X) AppleWebKit/605.1.15',
  android: 'Mozilla/5.0 (Linux; Android 14; K) AppleWebKit/537.36 Mobile Safari/537.36',
  windows: 'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36',
  mac: 'Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7) AppleWebKit/605.1.15',
  linux: 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36',
};

test.each(Object.entries(AGENTS))('the steps for %s are those shown there', (key, agent) => {
  expect(systemOf(agent).key).toBe(key);
});

test('a system that is not known is shown the first, and every one has steps', () => {
  expect(systemOf('')).toBe(SYSTEMS[0]);
  expect(SYSTEMS.every(({ steps }) => steps.length >= 3)).toBe(true);
});
