import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [tailwindcss(), svelte()],
  build: {
    outDir: '../src/orexis/server/site',
    emptyOutDir: true,
    // The content policy allows no data: fonts or scripts.
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 700,
    rollupOptions: {
      // The clicks have an address of their own, so that their timing can be measured.
      input: { index: 'index.html', clicks: 'src/audio/clicks.ts' },
      preserveEntrySignatures: 'exports-only',
      output: {
        entryFileNames: ({ name }) =>
          name === 'clicks' ? 'assets/clicks.js' : 'assets/[name]-[hash].js',
      },
    },
  },
  server: {
    port: 5173,
    strictPort: true,
    // The guide stands with the documentation.
    fs: { allow: ['..'] },
    proxy: { '/api': { target: 'http://127.0.0.1:8420', ws: true } },
  },
});
