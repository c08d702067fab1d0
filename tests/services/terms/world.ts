import { afterAll, beforeAll, beforeEach } from 'vitest';
import type { SetChange } from '../../../src/contract/setup/rate-book';
import type { Id } from '../../../src/core/text/id';
import type { App } from '../../../src/server/ground/context';
import { Problem } from '../../../src/server/ground/http/problem';
import { createProduct, moveProduct } from '../../../src/server/setup/products/service';
import { readRateBook } from '../../../src/server/setup/terms/ratebook';
import { testApp, type TestApp } from '../../helpers/app';

export let t: TestApp;
export let app: App;
export let wheel: Id<'product'>;
export let course: Id<'product'>;
export const faultsOf = (work: () => unknown): string[] => {
  try {
    work();
  } catch (fault) {
    if (fault instanceof Problem)
      return fault.errors?.length ? fault.errors.map((e) => `${e.pointer} ${e.detail}`) : [fault.message];
    throw fault;
  }
  return [];
};
export const product = (code: string, name: string, price: string, reward: string) => {
  const p = createProduct(app, t.owner, {
    code,
    name,
    description: 'x',
    currency: 'EUR',
    price,
    refundDays: 14,
    salesPage: 'https://shop.quernstone.example/p',
    rewardKind: 'percent',
    reward,
  });
  moveProduct(app, t.owner, p.id, { to: 'live', version: p.version });
  return p.id;
};
export const rateFor = (
  column: SetChange['column'],
  row: SetChange['row'],
  value: string,
  more: Partial<SetChange> = {},
): SetChange => ({ column, row, event: 'sale', mode: 'base', reward: { kind: 'percent', value }, ...more });
export const cell = (column: string, row: string, query = {}) => {
  const book = readRateBook(app, t.owner, query);
  const c = book.columns.findIndex((x) => x.name === column);
  return book.rows.find((r) => r.name === row)!.cells[c]!;
};

/** What each file of these tests begins and ends with. */
export function prepare(): void {
  beforeEach(() => {
    t = testApp();
    app = t.app;
    wheel = product('WHEEL-1', 'Wheel', '199.00', '8');
    course = product('THROW-V', 'Course', '89.00', '30');
  });
  beforeAll(() => undefined);
  afterAll(() => app.close());
}
