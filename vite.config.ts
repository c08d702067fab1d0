import { join } from 'node:path';
import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

/** The gallery of the kit is built by itself, for tests: `vite build --mode gallery`. */
const gallery = join(import.meta.dirname, 'src/web/gallery/index.html');

export default defineConfig(({ mode }) => ({
  root: join(import.meta.dirname, 'src/web'),
  publicDir: join(import.meta.dirname, 'src/web/static'),
  plugins: [react(), tailwindcss()],
  build: {
    outDir: join(import.meta.dirname, mode === 'gallery' ? 'dist/gallery' : 'dist/web'),
    ...(mode === 'gallery' ? { rollupOptions: { input: gallery } } : {}),
    emptyOutDir: true,
    target: 'es2022',
    assetsInlineLimit: 0,
  },
  server: {
    host: '127.0.0.1',
    port: 4320,
    proxy: { '/api': 'http://127.0.0.1:4310', '/go': 'http://127.0.0.1:4310' },
  },
}));
