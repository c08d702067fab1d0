// Formats everything: npm run format. With -- --check it only says what is not formatted.
import { join } from 'node:path';
import { installed, must, root } from './lib/prepare.mjs';

installed();
const how = process.argv.includes('--check') ? '--check' : '--write';
must(join(root, 'node_modules/.bin/prettier'), [how, '.', '--log-level', 'warn']);
