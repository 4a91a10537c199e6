import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  root: 'web',
  plugins: [react()],
  worker: { format: 'es' },
  html: { cspNonce: '%NONCE%' },
  server: { proxy: { '/api': { target: 'http://127.0.0.1:4860', changeOrigin: true } } },
  build: {
    outDir: '../dist/web',
    emptyOutDir: true,
    target: 'es2023',
    // Fonts stay files of their own: the content security policy allows no embedded ones.
    assetsInlineLimit: 0,
  },
});
