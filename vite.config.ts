import { join } from 'node:path';
import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  root: join(import.meta.dirname, 'src/web'),
  publicDir: join(import.meta.dirname, 'src/web/static'),
  plugins: [react(), tailwindcss()],
  build: {
    outDir: join(import.meta.dirname, 'dist/web'),
    emptyOutDir: true,
    target: 'es2022',
    assetsInlineLimit: 0,
  },
  server: {
    host: '127.0.0.1',
    port: 4320,
    proxy: { '/api': 'http://127.0.0.1:4310', '/go': 'http://127.0.0.1:4310' },
  },
});
