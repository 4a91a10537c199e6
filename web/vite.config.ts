import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const server = `http://127.0.0.1:${process.env.NETTER_PORT || '4861'}`;

export default defineConfig({
  root: 'web',
  plugins: [react()],
  worker: { format: 'es' },
  html: { cspNonce: '%NONCE%' },
  server: {
    host: '127.0.0.1',
    port: Number(process.env.NETTER_PAGE_PORT || 5173),
    strictPort: true,
    proxy: {
      '/api': {
        target: server,
        changeOrigin: true,
        // The server answers to its own origin only: in development the page comes from another port.
        configure: (proxy) =>
          proxy.on('proxyReq', (request) => {
            if (request.hasHeader('origin')) request.setHeader('origin', server);
          }),
      },
    },
  },
  build: {
    outDir: '../dist/web',
    emptyOutDir: true,
    target: 'es2023',
    // Fonts stay files of their own: the content security policy allows no embedded ones.
    assetsInlineLimit: 0,
  },
});
