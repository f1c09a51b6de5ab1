import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';

/** The page that pairs a device: all there is before it is paired, so with files of its own. */
export default defineConfig({
  root: 'pair',
  base: '/pair/',
  plugins: [tailwindcss(), svelte()],
  publicDir: false,
  build: {
    outDir: '../../src/orexis/server/site/pair',
    emptyOutDir: true,
    assetsInlineLimit: 0,
  },
});
