import { describe, expect, it } from 'vitest';
import type { SetChange } from '../../../src/contract/setup/rate-book';
import { anybody } from '../../../src/core/terms/rate';
import type { Id } from '../../../src/core/text/id';
import { products } from '../../../src/server/ground/tables/catalogue';
import { productById } from '../../../src/server/registers/catalogue/store';
import { createProduct, editProduct } from '../../../src/server/setup/products/service';
import { readProduct } from '../../../src/server/setup/products/view';
import { ask } from '../../../src/server/setup/terms/ask';
import { saveDraft } from '../../../src/server/setup/terms/draft-save';
import { openDraft } from '../../../src/server/setup/terms/draft-store';
import { discardDraft, draftRate, draftSwitch } from '../../../src/server/setup/terms/drafts';
import { promisedNow } from '../../../src/server/setup/terms/promised';
import { cancelRehearsal, readRehearsal, startRehearsal } from '../../../src/server/setup/terms/rehearsals';
import { standingOf } from '../../../src/server/setup/terms/service';
import { createSet } from '../../../src/server/setup/terms/sets';
import { addAffiliate } from '../../helpers/app';
import { formOf } from '../../helpers/product-form';
import { app, course, faultsOf, prepare, rateFor, t, wheel } from './world';

prepare();

describe('a rehearsal', () => {
  const span = { from: '2026-12-01', to: '2027-01-04' };
  const settled = async (id: Id<'rehearsal'>) => {
    for (let i = 0; i < 200 && readRehearsal(app, id).state === 'running'; i += 1)
      await new Promise((done) => {
        setTimeout(done, 5);
      });
    return readRehearsal(app, id);
  };
  it('keeps its result with the draft, and says when the draft has changed since', async () => {
    draftRate(app, t.owner, rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '12'));
    const { id } = startRehearsal(app, t.owner, span);
    expect(await settled(id)).toMatchObject({
      state: 'done',
      outdated: false,
      result: { orders: 0, changed: 0, difference: { amount: 0 } },
    });
    expect(
      draftRate(app, t.owner, rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '13')).rehearsal,
    ).toMatchObject({ id, outdated: true });
  });
  it('is cancelled, changes nothing, and another begins anew', async () => {
    draftRate(app, t.owner, rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '12'));
    const first = startRehearsal(app, t.owner, span);
    expect(cancelRehearsal(app, first.id)).toMatchObject({ state: 'cancelled', result: null });
    expect((await settled(startRehearsal(app, t.owner, span).id)).state).toBe('done');
    expect(readRehearsal(app, first.id).state).toBe('cancelled');
    expect(openDraft(app, t.owner)!.changes).toHaveLength(1);
  });
  it('needs a draft and days of the past, in order', () => {
    expect(faultsOf(() => startRehearsal(app, t.owner, span))[0]).toMatch(/There is no draft/);
    draftRate(app, t.owner, rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '12'));
    expect(faultsOf(() => startRehearsal(app, t.owner, { from: '2027-01-04', to: '2026-12-01' }))[0]).toMatch(
      /^\/to To lies before from/,
    );
    expect(faultsOf(() => startRehearsal(app, t.owner, { from: '2027-02-30', to: '2027-03-01' }))[0]).toMatch(
      /^\/from/,
    );
    expect(faultsOf(() => startRehearsal(app, t.owner, { from: '2027-06-01', to: '2027-06-02' }))[0]).toMatch(
      /future/,
    );
  });
});

describe('the notice of cuts', () => {
  it('holds for a product’s own form as well, and not while it is a draft or nobody has joined', () => {
    const edit = (id: Id<'product'>, reward: string) => {
      const form = formOf(readProduct(app, id));
      return editProduct(app, t.owner, id, { ...form, rewardKind: 'percent', reward });
    };
    edit(wheel, '7');
    addAffiliate(app, 'Mara');
    expect(faultsOf(() => edit(wheel, '6'))[0]).toMatch(
      /^\/reward Somebody would earn less .* promises 2 weeks of notice.*plan it in the rate book/,
    );
    expect(edit(wheel, '9').reward).toBe('9');
    const draft = createProduct(app, t.owner, {
      code: 'NEW-1',
      name: 'New',
      description: '',
      currency: 'EUR',
      price: '9.00',
      refundDays: 0,
      salesPage: '',
      rewardKind: 'percent',
      reward: '20',
    });
    expect(edit(draft.id, '10').reward).toBe('10');
  });
});

it('asking the book: reckons a renewal at the price of that payment, not at the first', () => {
  const box = createProduct(app, t.owner, {
    code: 'BOX-1',
    name: 'Box',
    description: 'x',
    currency: 'EUR',
    price: '5.00',
    refundDays: 14,
    salesPage: 'https://shop.quernstone.example/p',
    rewardKind: 'percent',
    reward: '50',
    kind: 'recurring',
    renewalPrice: '24.00',
    renewalRewardKind: 'percent',
    renewalReward: '10',
  }).id;
  expect(ask(app, t.owner, { column: 'everyone', product: box }).total.amount).toBe(250);
  expect(ask(app, t.owner, { column: 'everyone', product: box, event: 'renewal' })).toMatchObject({
    value: { amount: 2400 },
    total: { amount: 240 },
  });
});
it('asking the book: what a lock ignores says so, what is on another product does not', () => {
  draftSwitch(app, t.owner, { op: 'lock', id: wheel, event: 'sale', on: true });
  saveDraft(app, t.owner, openDraft(app, t.owner)!.version);
  const group = createSet(app, t.owner, { of: 'group', name: 'Circle', about: '' });
  const ignored = (input: SetChange) => {
    const said = draftRate(app, t.owner, input).changes.at(-1)!.ignoredBy;
    discardDraft(app, t.owner, openDraft(app, t.owner)!.version);
    return said;
  };
  expect(ignored(rateFor({ of: 'group', id: group.id }, { of: 'product', id: wheel }, '20'))).toEqual([
    'Wheel',
  ]);
  expect(ignored(rateFor({ of: 'group', id: group.id }, { of: 'product', id: course }, '20'))).toEqual([]);
  expect(ignored(rateFor({ of: 'everyone' }, { of: 'everything' }, '20', { mode: 'up-to' }))).toEqual([
    'Wheel',
  ]);
  expect(ignored(rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '20'))).toEqual([]);
});
it('asking the book: says who, what and why for any moment, value and payment', () => {
  const answer = ask(app, t.owner, {
    column: 'everyone',
    product: course,
    value: '120.00',
    at: '2027-02-01T09:00',
  });
  expect([answer.who, answer.product, answer.total.amount, answer.lines[0]!.sums.at(-1)!.figure]).toEqual([
    'Everyone',
    'Course',
    3600,
    '€36.00',
  ]);
  expect(
    faultsOf(() => ask(app, t.owner, { column: 'everyone', product: course, value: 'a lot' }))[0],
  ).toMatch(/^\/value Order value/);
  expect(
    faultsOf(() =>
      ask(app, t.owner, { column: 'everyone', product: course, currency: 'JPY', value: '5000' }),
    )[0],
  ).toMatch(/No exchange rate/);
  expect(app.db.select().from(products).all()).toHaveLength(2);
});

describe('what people read of the terms', () => {
  const product = () => productById(app, wheel)!;
  const reads = () => ({
    text: promisedNow(app, anybody, product()),
    ...standingOf(app, anybody, product()),
  });
  const raise = () => {
    draftRate(app, t.owner, {
      ...rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '15'),
      mode: 'up-to',
      from: '2027-01-04T09:00',
      until: '2027-01-12T00:00',
      label: 'Fair',
    });
    saveDraft(app, t.owner, openDraft(app, t.owner)!.version);
  };
  it('names the uplift that raises a rate, until when, and what is paid then', () => {
    expect(reads()).toEqual({ text: '8 %', rung: 'product', locked: false, raised: false });
    raise();
    expect(reads()).toMatchObject({ text: '15 % until 11 Jan 2027, then 8 %', raised: true });
  });
  it('names none on a locked product', () => {
    draftSwitch(app, t.owner, { op: 'lock', id: wheel, event: 'sale', on: true });
    saveDraft(app, t.owner, openDraft(app, t.owner)!.version);
    raise();
    expect(reads()).toMatchObject({ text: '8 %', locked: true, raised: false });
  });
});
