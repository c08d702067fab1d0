// Builds dist/server (one bundle per program) and dist/web.
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'esbuild';
import { build as buildWeb } from 'vite';

// whoever calls: a test runner's NODE_ENV would build React's development version
process.env.NODE_ENV = 'production';

const root = join(import.meta.dirname, '..');
const entries = {
  main: 'src/server/main.ts',
  demo: 'src/demo/main.ts',
  large: 'src/demo/large/main.ts',
  rehearse: 'src/server/setup/terms/rehearse.worker.ts',
  status: 'src/server/settle/bank/status.worker.ts',
  reader: 'src/server/reading/reader.worker.ts',
  checkpoint: 'src/server/ground/db/checkpoint.worker.ts',
};
await build({
  entryPoints: Object.fromEntries(
    Object.entries(entries)
      .filter(([, path]) => existsSync(join(root, path)))
      .map(([name, path]) => [name, join(root, path)]),
  ),
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'cjs',
  outdir: join(root, 'dist/server'),
  outExtension: { '.js': '.cjs' },
  external: ['better-sqlite3', '@node-rs/argon2', 'sharp'],
  logLevel: 'warning',
  sourcemap: 'linked',
  // names stay, for what is said of a fault; a start reads a quarter less
  minifyWhitespace: true,
  minifySyntax: true,
  legalComments: 'none',
});
if (existsSync(join(root, 'src/web/index.html')))
  await buildWeb({ root: join(root, 'src/web'), configFile: join(root, 'vite.config.ts'), logLevel: 'warn' });
