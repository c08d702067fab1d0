import { join } from 'node:path';
import Database from 'better-sqlite3';

/** What the data of the demo was made larger by: a banner's file, to be asked for. */
export interface Enlarged {
  hash: string;
  bytes: number;
}

const creatives = 5_000;
const products = 2_000;

type Sqlite = Database.Database;

/** Rows once more, so many times, with other values in some columns. @param put SQL by column, in which i counts the copies and t is the row */
function copies(
  sqlite: Sqlite,
  {
    table,
    times,
    put,
    where = '1',
  }: { table: string; times: number; put: Record<string, string>; where?: string },
): void {
  const columns = (sqlite.pragma(`table_info(${table})`) as { name: string }[]).map((c) => c.name);
  const values = columns.map((name) => put[name] ?? `t.${name}`);
  sqlite.exec(
    `WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < ${times})
     INSERT INTO ${table} (${columns.join(', ')}) SELECT ${values.join(', ')} FROM ${table} t, n WHERE ${where}`,
  );
}

/** Something done to the demo's data while the server does not run. */
function changed<T>(data: string, work: (sqlite: Sqlite) => T): T {
  const sqlite = new Database(join(data, 'gravenel.sqlite'));
  sqlite.pragma('foreign_keys = OFF');
  try {
    return work(sqlite);
  } finally {
    sqlite.close();
  }
}

/** Makes the sample book of the demo as large as a large programme's. */
export const moreCreatives = (data: string): Enlarged =>
  changed(data, (sqlite) => {
    const there = sqlite.prepare<[], number>('SELECT count(*) FROM creatives').pluck().get()!;
    const times = Math.ceil(creatives / there) - 1;
    const copied = { creative: `t.creative || 'x' || i` };
    copies(sqlite, { table: 'creative_products', times, put: copied });
    copies(sqlite, { table: 'creative_readers', times, put: copied });
    const put = { id: `t.id || 'x' || i`, name: `t.name || ' ' || i`, created_at: 't.created_at - i * 1000' };
    copies(sqlite, { table: 'creatives', times, put });
    return sqlite
      .prepare<[], Enlarged>(
        "SELECT hash, bytes FROM material_files WHERE type = 'image/png' AND bytes < 100000 ORDER BY bytes DESC LIMIT 1",
      )
      .get()!;
  });

/** Makes the catalogue of the demo as large as a large shop's, with a link of one affiliate for each product. */
export const moreProducts = (data: string): void =>
  changed(data, (sqlite) => {
    const one = "t.code = 'WHEEL-1'";
    copies(sqlite, {
      table: 'links',
      times: products,
      put: { code: `'bench' || i`, product: `t.product || 'x' || i` },
      where: `t.creative IS NULL AND t.coupon IS NULL AND t.page IS NULL
        AND t.product = (SELECT id FROM products t WHERE ${one}) AND t.affiliate = (SELECT id FROM affiliates WHERE handle = 'loam-letters')`,
    });
    copies(sqlite, {
      table: 'products',
      times: products,
      put: { id: `t.id || 'x' || i`, code: `t.code || '-' || i`, name: `t.name || ' ' || i` },
      where: one,
    });
  });
