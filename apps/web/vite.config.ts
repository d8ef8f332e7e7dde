import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const isolation = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
};

export default defineConfig({
  plugins: [react()],
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 900 },
  server: {
    host: '127.0.0.1',
    headers: isolation,
    // While working on the interface: the server runs beside it.
    proxy: {
      '/api': { target: 'http://127.0.0.1:4317', changeOrigin: true, headers: { origin: 'http://127.0.0.1:4317' } },
    },
  },
});
