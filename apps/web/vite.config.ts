import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

/** Where the API answers while developing; the start command serves both from one address. */
const server = process.env['LANTERN_SERVER'] ?? 'http://127.0.0.1:4601';

export default defineConfig({
  root: import.meta.dirname,
  plugins: [react(), tailwindcss()],
  resolve: { conditions: ['lantern-source', 'module', 'browser', 'development|production'] },
  worker: { format: 'es' },
  build: { outDir: 'dist', emptyOutDir: true, chunkSizeWarningLimit: 1200 },
  server: { proxy: { '/api': server } },
});
