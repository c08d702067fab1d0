import { dirname, join } from 'node:path';
import { build } from 'esbuild';

const root = join(import.meta.dirname, '../..');

/** Where the tests' bundle of the rehearsal worker is: worker threads cannot load TypeScript. */
export const workerFile = join(root, 'dist/test/rehearse.cjs');

/** Bundles the workers once before all tests. */
export default async function setup(): Promise<void> {
  const entryPoints = {
    rehearse: join(root, 'src/server/setup/terms/rehearse.worker.ts'),
    status: join(root, 'src/server/settle/bank/status.worker.ts'),
    reader: join(root, 'src/server/reading/reader.worker.ts'),
    checkpoint: join(root, 'src/server/ground/db/checkpoint.worker.ts'),
  };
  await build({
    entryPoints,
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'cjs',
    outdir: dirname(workerFile),
    outExtension: { '.js': '.cjs' },
    external: ['better-sqlite3', '@node-rs/argon2', 'sharp'],
    logLevel: 'warning',
  });
}
