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
      // A script and no module: of a script Node can keep what it compiled (cli/compiled.mjs).
      output: { format: 'cjs', entryFileNames: 'netter.cjs', codeSplitting: false },
    },
  },
});
