import { defineConfig } from 'vite';

/** Bundles the server's own code into one file, so that a start does not have to translate it; packages stay outside. */
export default defineConfig({
  build: {
    ssr: 'server/main.ts',
    outDir: 'dist/server',
    target: 'node20',
    emptyOutDir: true,
    copyPublicDir: false,
    rolldownOptions: { output: { entryFileNames: 'main.mjs' } },
  },
});
