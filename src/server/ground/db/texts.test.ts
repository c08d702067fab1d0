import Database from 'better-sqlite3';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { anywhere } from './page';
import { RowTexts } from './texts';

function table() {
  const sqlite = new Database(':memory:');
  sqlite.exec('CREATE TABLE named (id TEXT PRIMARY KEY, name TEXT NOT NULL, slot TEXT)');
  const put = sqlite.prepare<[string, string, string | null]>(
    'INSERT INTO named (id, name, slot) VALUES (?, ?, ?)',
  );
  const texts = new RowTexts(sqlite, { table: 'named', text: 'name', where: 'slot IS NULL' });
  const like = (part: string) =>
    sqlite
      .prepare<[string], number>(
        "SELECT rowid FROM named WHERE slot IS NULL AND name LIKE ? ESCAPE '\\' ORDER BY rowid DESC",
      )
      .pluck()
      .all(anywhere(part));
  return {
    sqlite,
    put: (id: string, name: string, slot: string | null = null) => put.run(id, name, slot),
    texts,
    like,
  };
}

const text = fc.string({
  unit: fc.constantFrom('a', 'B', 'b', 'é', '%', '_', '\\', '0', ' '),
  maxLength: 6,
});

it('find what LIKE finds, newest first, while rows are added', () => {
  let hits = 0;
  fc.assert(
    fc.property(
      fc.array(fc.array(text, { maxLength: 5 }), { minLength: 1, maxLength: 4 }),
      text.filter((t) => t !== ''),
      (pieces, part) => {
        const { put, texts, like } = table();
        let serial = 0;
        for (const piece of pieces) {
          for (const name of piece) put(`n${(serial += 1)}`, name, serial % 7 === 0 ? `s${serial}` : null);
          const found = texts.find(part, 100);
          expect(found).toEqual(like(part));
          if (found.length) hits += 1;
        }
      },
    ),
    { numRuns: 400 },
  );
  expect(hits).toBeGreaterThan(100);
});

it('are found over many chunks, at most so many, and by what was read beforehand', () => {
  const { sqlite, put, texts, like } = table();
  sqlite.transaction(() => {
    for (let i = 0; i < 20_000; i += 1) put(`n${i}`, `L-${i}`);
  })();
  expect([texts.prepare(), texts.prepare(), texts.prepare(), texts.prepare()]).toEqual([
    true,
    true,
    false,
    false,
  ]);
  expect(texts.find('l-1999', 100)).toEqual(like('L-1999'));
  expect(texts.find('L-', 3)).toEqual([20_000, 19_999, 19_998]);
  expect(texts.find('L-7\nL-8', 3)).toEqual([]);
});

it('lets go of the beginning that a log has forgotten', () => {
  const { sqlite, put, texts, like } = table();
  sqlite.transaction(() => {
    for (let i = 0; i < 20_000; i += 1) put(`n${i}`, `L-${i}`);
  })();
  expect(texts.find('L-1', 5)).toHaveLength(5);
  sqlite.exec('DELETE FROM named WHERE rowid <= 17000');
  put('n20000', 'L-20000');
  expect(texts.find('L-5', 5)).toEqual([]);
  expect(texts.find('L-20', 100)).toEqual(like('L-20'));
  expect(texts.find('L-1700', 100)).toEqual([...like('L-1700')]);
});
it('forgets what was taken away, also where its number has become another’s', () => {
  const { sqlite, put, texts } = table();
  put('a', 'first');
  put('b', 'second');
  expect(texts.find('second', 5)).toEqual([2]);
  sqlite.exec("DELETE FROM named WHERE id = 'b'");
  put('c', 'third');
  expect(texts.find('second', 5)).toEqual([]);
  expect(texts.find('third', 5)).toEqual([2]);
});
