import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { floors, owners } from './house.mjs';

const server = join(import.meta.dirname, '../../src/server');

/** Rooms of a floor as they stand in its folder; a floor that nothing was built on yet has none. */
function roomsOf(floor) {
  if (!existsSync(join(server, floor))) return [];
  return readdirSync(join(server, floor), { withFileTypes: true })
    .filter((entry) => entry.isDirectory())
    .map((entry) => entry.name)
    .sort();
}

const tablesOf = (floor) =>
  Object.entries(owners)
    .filter(([, owner]) => owner.split('/')[0] === floor)
    .map(([file]) => file)
    .sort();

/** The floors of the server as a picture in letters, the highest above, with their rooms and the tables they write. */
function picture() {
  const lines = [...floors]
    .reverse()
    .flatMap((floor) => floor.map((name) => [name, roomsOf(name).join(' · '), tablesOf(name).join(', ')]));
  const widths = [0, 1, 2].map((i) => Math.max(...lines.map((line) => line[i].length)));
  const rule = `+${widths.map((w) => '-'.repeat(w + 2)).join('+')}+`;
  const row = (line) => `| ${line.map((text, i) => text.padEnd(widths[i])).join(' | ')} |`;
  return [rule, row(['floor', 'rooms', 'tables it writes'].map((t, i) => t.slice(0, widths[i]))), rule]
    .concat(lines.map(row), rule)
    .join('\n');
}

const begins = '<!-- floors: drawn by npm run picture -->';
const ends = '<!-- end of floors -->';

/** A document with the picture in its place. */
export function drawn(document) {
  const [before, rest] = document.split(begins);
  if (rest === undefined) throw new Error(`There is no place for the picture: ${begins}`);
  return `${before}${begins}\n\`\`\`text\n${picture()}\n\`\`\`\n${ends}${rest.split(ends)[1]}`;
}
