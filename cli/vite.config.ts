import { defineConfig } from 'vite';

/** Everything that a command needs as one file: a sum is answered before a library would have been found. */
export default defineConfig({
  ssr: { noExternal: true },
  build: {
    ssr: 'cli/main.ts',
    outDir: 'dist',
    target: 'node20',
    emptyOutDir: false,
    copyPublicDir: false,
    rolldownOptions: {
      output: { entryFileNames: 'netter.mjs', codeSplitting: false },
    },
  },
});
