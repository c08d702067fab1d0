import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Id } from '../../src/core/text/id';
import type { App } from '../../src/server/ground/context';
import { changing, insertion, rowsBy } from '../../src/server/ground/db/prepared';
import { keepingStatements } from '../../src/server/ground/db/statements';
import { products } from '../../src/server/ground/tables/catalogue';
import { orders } from '../../src/server/ground/tables/orders';
import { reports } from '../../src/server/ground/tables/reports';
import { visits } from '../../src/server/ground/tables/visits';
import { testApp } from '../helpers/app';

let app: App;
beforeAll(() => {
  ({ app } = testApp());
});
afterAll(() => app.close());

const product = (id: Id<'product'>, code: string): typeof products.$inferSelect => ({
  id,
  code,
  name: `Wheel ${code}`,
  description: '',
  kind: 'one-off',
  currency: 'EUR',
  price: 19_900,
  refundDays: 14,
  salesPage: '',
  state: 'live',
  createdAt: 0,
  retiredAt: null,
  details: { delivery: 'file', categories: ['craft'] },
  sold: 0,
  version: 1,
});

it('statements by the names of columns: whole rows as the query builder does, JSON and nothing among them', () => {
  insertion(app, products).run(product('prd_p1', 'P-1'));
  const [built] = app.db
    .select()
    .from(products)
    .all()
    .filter((p) => p.id === 'prd_p1');
  expect(rowsBy(app, products, ['id']).get('prd_p1')).toEqual(built);
  expect(built).toEqual(product('prd_p1', 'P-1'));
  expect(rowsBy(app, products, ['id'], { only: ['code', 'details'] }).get('prd_p1')).toEqual({
    code: 'P-1',
    details: { delivery: 'file', categories: ['craft'] },
  });
  expect(rowsBy(app, products, ['id']).get('prd_none')).toBeUndefined();
});
it('statements by the names of columns: ask by several columns, by nothing where there is none, and in an order', () => {
  insertion(app, products).run({ ...product('prd_p2', 'P-2'), retiredAt: 7 });
  const by = rowsBy(app, products, ['kind', 'retiredAt'], {
    only: ['code'],
    inOrderOf: 'code',
    maybe: ['retiredAt'],
  });
  expect(by.all('one-off', null).map((p) => p.code)).toEqual(['P-1']);
  expect(by.all('one-off', 7).map((p) => p.code)).toEqual(['P-2']);
  expect(
    rowsBy(app, products, ['kind'], { only: ['code'], and: 'retired_at IS NULL' }).all('one-off'),
  ).toEqual([{ code: 'P-1' }]);
});
it('statements by the names of columns: change some columns of the rows that are named', () => {
  const change = changing(app, products, ['details', 'retiredAt', 'sold'], ['id']);
  change.run({ details: {}, retiredAt: null, sold: 3 }, 'prd_p2');
  expect(rowsBy(app, products, ['id'], { only: ['details', 'retiredAt', 'sold'] }).get('prd_p2')).toEqual({
    details: {},
    retiredAt: null,
    sold: 3,
  });
  expect(rowsBy(app, products, ['id'], { only: ['sold'] }).get('prd_p1')).toEqual({ sold: 0 });
});
it('statements by the names of columns: name a column that was forgotten', () => {
  const { name, ...rest } = product('prd_p3', 'P-3');
  expect(name).toBe('Wheel P-3');
  expect(() => {
    insertion(app, products).run(rest as typeof products.$inferSelect);
  }).toThrow(/products\.name is not given/);
});
it('statements by the names of columns: are found by an index where tracking asks for each order', () => {
  const plan = (sql: string) =>
    app.sqlite
      .prepare<unknown[], { detail: string }>(`EXPLAIN QUERY PLAN ${sql}`)
      .all(...Array.from({ length: sql.split('?').length - 1 }, () => null))
      .map((r) => r.detail)
      .join();
  // one of what is there alone, too: a visitor that is named, out of millions of visits with none
  const sources: string[] = [];
  const sqlite = new Proxy(app.sqlite, {
    get: (target, name) =>
      name === 'prepare'
        ? (source: string) => {
            sources.push(source);
            return target.prepare(source);
          }
        : Reflect.get(target, name),
  });
  const listening: App = { ...app, sqlite };
  rowsBy(listening, orders, ['reference']);
  rowsBy(listening, visits, ['visitor']);
  rowsBy(listening, reports, ['order']);
  expect(sources).toHaveLength(3);
  for (const source of sources) expect(plan(source)).toMatch(/^SEARCH/);
});

describe('the query builder’s connection', () => {
  it('plans a statement of the same words once, and answers rows and lists of values apart', () => {
    let planned = 0;
    const counted = new Proxy(app.sqlite, {
      get: (target, name) =>
        name === 'prepare'
          ? (source: string) => {
              planned += 1;
              return target.prepare(source);
            }
          : (Reflect.get(target, name) as unknown),
    });
    const kept = keepingStatements(counted);
    const ask = () => kept.prepare("SELECT id, code FROM products WHERE id = 'prd_p1'");
    expect(ask().get()).toEqual({ id: 'prd_p1', code: 'P-1' });
    expect(ask().raw().get()).toEqual(['prd_p1', 'P-1']);
    expect(ask().all()).toEqual([{ id: 'prd_p1', code: 'P-1' }]);
    expect(planned).toBe(2);
    // of very many the oldest go, and are planned again
    for (let i = 0; i < 1000; i += 1) kept.prepare(`SELECT ${i}`);
    expect(ask().get()).toEqual({ id: 'prd_p1', code: 'P-1' });
    expect(planned).toBe(1003);
  });
  it('goes on after the tables have changed', () => {
    const read = () => app.db.select({ code: products.code }).from(products).all().length;
    const before = read();
    app.sqlite.exec('CREATE INDEX products_for_a_test ON products (name)');
    expect(read()).toBe(before);
    app.sqlite.exec('DROP INDEX products_for_a_test');
    expect(read()).toBe(before);
  });
});
