import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';

const web = join(import.meta.dirname, '../../src/web');

/** Every string of classes in the web’s sources, with how often it is written out. */
function written(): Map<string, number> {
  const counts = new Map<string, number>();
  const files = readdirSync(web, { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('.tsx'));
  for (const file of files)
    for (const [, classes] of readFileSync(join(web, file), 'utf8').matchAll(/className="([^"]+)"/g)) {
      const sorted = classes!.split(' ').sort().join(' ');
      counts.set(sorted, (counts.get(sorted) ?? 0) + 1);
    }
  return counts;
}

it('what is dressed in three classes three times is a part of the kit', () => {
  const counts = written();
  expect(counts.size).toBeGreaterThan(300);
  const repeated = [...counts].filter(
    ([classes, times]) =>
      times >= 3 && (classes.split(' ').length >= 3 || times >= 5) && classes.includes(' '),
  );
  expect(repeated).toEqual([]);
});
