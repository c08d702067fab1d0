// Runs a TypeScript program of this project: node scripts/run.mjs path/to/program.ts [arguments]
import { join } from 'node:path';
import { checkNode, installed, must, root } from './lib/prepare.mjs';

checkNode();
installed();
const [program, ...args] = process.argv.slice(2);
must(process.execPath, ['--import', 'tsx', join(root, program), ...args]);
