import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';

/** The page in a report's zip: one script and one style, with all they need within them. */
export default defineConfig({
  plugins: [tailwindcss(), svelte()],
  publicDir: false,
  build: {
    outDir: '../src/orexis/server/site/alone',
    emptyOutDir: true,
    assetsInlineLimit: () => true,
    cssCodeSplit: false,
    chunkSizeWarningLimit: 2000,
    rollupOptions: {
      input: 'src/report/alone.ts',
      output: { format: 'iife', entryFileNames: 'alone.js', assetFileNames: 'alone[extname]' },
    },
  },
});
