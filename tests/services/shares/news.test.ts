import { expect, it } from 'vitest';
import type { ReplyOf } from '../../../src/contract/endpoint';
import type { previewChange, ProductOut } from '../../../src/contract/setup/products';
import { newId } from '../../../src/server/ground/db/ids';
import { approvals } from '../../../src/server/ground/tables/people';
import { tellProductNews } from '../../../src/server/setup/products/news';
import { addAffiliate } from '../../helpers/app';
import { formOf } from '../../helpers/product-form';
import { course, owner, prepare, s } from './world';

prepare();

const path = () => `/api/v1/products/${course}`;
const news = () =>
  s.app.sqlite.prepare("SELECT subject FROM messages WHERE kind = 'product-news' ORDER BY id").pluck().all();
const preview = async (query: string) =>
  (await owner.get<ReplyOf<typeof previewChange>>(`${path()}/preview?${query}`)).body;

it('a lower price says what a sale will earn before it is saved, and tells them once', async () => {
  expect(await preview('price=50.00')).toMatchObject({
    told: 2,
    before: { amount: 2670 },
    after: { amount: 1500 },
  });
  expect(await preview('price=99.00')).toMatchObject({ told: 0 });
  const form = formOf((await owner.get<ProductOut>(path())).body);
  expect((await owner.put(path(), { ...form, price: '50.00' })).status).toBe(200);
  expect(news()).toEqual(Array(2).fill('Product COURSE has a new price'));
});

it('taking it off sale says so too', async () => {
  const { version } = (await owner.get<ProductOut>(path())).body;
  expect(await preview('state=paused')).toMatchObject({ told: 2, after: { amount: 0 } });
  await owner.post(`${path()}/state`, { state: 'paused', version });
  expect(news().slice(2)).toEqual(Array(2).fill('Product COURSE is off sale'));
  const { version: paused } = (await owner.get<ProductOut>(path())).body;
  await owner.post(`${path()}/state`, { state: 'live', version: paused });
  expect(news().slice(4)).toEqual(Array(2).fill('Product COURSE is on sale again'));
});

it('many are told in turns, each once, also where the turns are interrupted', async () => {
  const before = news().length;
  for (let n = 0; n < 230; n += 1) {
    const { id: affiliate } = addAffiliate(s.app, `Promoter-${n}`);
    const approval = { id: newId('approval'), affiliate, product: null, timing: 'at-sale' as const };
    s.app.db
      .insert(approvals)
      .values({ ...approval, from: 0 })
      .run();
  }
  const form = formOf((await owner.get<ProductOut>(path())).body);
  await owner.put(path(), { ...form, price: '49.00' });
  expect(news().length - before).toBe(100);
  await tellProductNews(s.app);
  await tellProductNews(s.app);
  expect(news().length - before).toBe(232);
  const told = s.app.sqlite.prepare(
    "SELECT count(DISTINCT affiliate) FROM messages WHERE subject LIKE '% has a new price' AND body LIKE '%€49.00 instead of%'",
  );
  expect(told.pluck().get()).toBe(232);
});

it('nobody is told of a product that is closed to affiliates', async () => {
  const before = news().length;
  const form = formOf((await owner.get<ProductOut>(path())).body);
  await owner.put(path(), { ...form, recruiting: 'none' });
  s.days(15);
  const { version } = (await owner.get<ProductOut>(path())).body;
  expect(await preview('state=paused')).toMatchObject({ told: 0 });
  await owner.post(`${path()}/state`, { state: 'paused', version });
  expect(news().length).toBe(before);
});
