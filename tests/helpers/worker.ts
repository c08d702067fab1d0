import { build } from 'esbuild';
import { join } from 'node:path';

const root = join(import.meta.dirname, '../..');

/** Where the tests' bundle of the rehearsal worker is: worker threads cannot load TypeScript. */
export const workerFile = join(root, 'dist/test/rehearse.cjs');

/** Bundles the worker once before all tests. */
export default async function setup(): Promise<void> {
  await build({ entryPoints: [join(root, 'src/server/terms/rehearse.worker.ts')], bundle: true, platform: 'node', target: 'node20', format: 'cjs', outfile: workerFile, external: ['better-sqlite3'], logLevel: 'warning' });
}
