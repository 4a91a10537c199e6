import { defineConfig } from 'vite';

/** Bundles the server's own code, so that a start does not have to translate it; packages stay outside. */
export default defineConfig({
  build: {
    ssr: true,
    outDir: 'dist/server',
    target: 'node20',
    emptyOutDir: true,
    copyPublicDir: false,
    rolldownOptions: {
      input: { main: 'server/main.ts', 'counts.worker': 'server/store/counts.worker.ts' },
      output: { entryFileNames: '[name].mjs', chunkFileNames: '[name].mjs' },
    },
  },
});
