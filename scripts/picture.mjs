// Draws the floors of the house into docs/architecture.md: npm run picture.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { drawn } from './lib/picture.mjs';

const file = join(import.meta.dirname, '../docs/architecture.md');
writeFileSync(file, drawn(readFileSync(file, 'utf8')));
