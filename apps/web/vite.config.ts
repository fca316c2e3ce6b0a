import { gzipSync } from 'node:zlib';
import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';

/** Where the API answers while developing; the start command serves both from one address. */
const server = process.env['LANTERN_SERVER'] ?? 'http://127.0.0.1:4601';

/** What signing in and the desk may load, compressed: two seconds on a slow connection of 1.2 Mbit/s. */
const MOST_AT_START = 300_000;

/** Fails the build when the entry, with all it imports at once, grows beyond the limit. */
const smallStart: Plugin = {
  name: 'small-start',
  generateBundle(_options, bundle) {
    const seen = new Set<string>();
    const sizeOf = (name: string): number => {
      const chunk = bundle[name];
      if (!chunk || chunk.type !== 'chunk' || seen.has(name)) return 0;
      seen.add(name);
      return gzipSync(chunk.code).length + chunk.imports.reduce((sum, each) => sum + sizeOf(each), 0);
    };
    for (const chunk of Object.values(bundle)) {
      if (chunk.type !== 'chunk' || !chunk.isEntry) continue;
      const size = sizeOf(chunk.fileName);
      if (size > MOST_AT_START)
        this.error(
          `The start loads ${size} bytes, compressed; at most ${MOST_AT_START}. Load what it does not need later.`,
        );
    }
  },
};

export default defineConfig({
  root: import.meta.dirname,
  plugins: [react(), tailwindcss(), smallStart],
  resolve: { conditions: ['lantern-source', 'module', 'browser', 'development|production'] },
  worker: { format: 'es' },
  build: { outDir: 'dist', emptyOutDir: true, chunkSizeWarningLimit: 700 },
  server: { proxy: { '/api': server } },
});
