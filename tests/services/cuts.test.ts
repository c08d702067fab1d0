import { beforeEach, describe, expect, it } from 'vitest';
import type { SetChange } from '../../src/contract/setup/rate-book';
import type { Id } from '../../src/core/text/id';
import type { App } from '../../src/server/ground/context';
import { funnels, funnelSteps } from '../../src/server/ground/tables/products';
import { doBulk, previewBulk, undoBulk } from '../../src/server/recruit/roster/bulk';
import { runImport } from '../../src/server/recruit/roster/import';
import { createProduct, moveProduct } from '../../src/server/setup/products/service';
import { saveDraft } from '../../src/server/setup/terms/draft-save';
import { openDraft } from '../../src/server/setup/terms/draft-store';
import { dateDraft, draftRate, draftSwitch } from '../../src/server/setup/terms/drafts';
import { addMembers, previewMembers } from '../../src/server/setup/terms/members';
import { readPlaces } from '../../src/server/setup/terms/places';
import { createSet, listSets } from '../../src/server/setup/terms/sets';
import { orderTags, tagOrder } from '../../src/server/setup/terms/tag-order';
import { addAffiliate, testApp, type TestApp } from '../helpers/app';

let t: TestApp;
let app: App;
let ids: Record<string, Id<'product'>>;
const day = 86_400_000;
const make = (code: string, fields: object) => {
  const p = createProduct(app, t.owner, {
    code,
    name: code,
    description: 'x',
    currency: 'EUR',
    price: '100.00',
    refundDays: 14,
    salesPage: 'https://shop.quernstone.example/p',
    rewardKind: 'percent',
    reward: '10',
    ...fields,
  });
  moveProduct(app, t.owner, p.id, { to: 'live', version: p.version });
  return p.id;
};
type Column = SetChange['column'];
const everyone: Column = { of: 'everyone' };
const rate = (column: Column, row: SetChange['row'], more: Partial<SetChange> = {}): SetChange => ({
  column,
  row,
  event: 'sale',
  mode: 'base',
  reward: { kind: 'percent', value: '10' },
  ...more,
});
/** Saves a change so that it is in force from now on, whatever it lowers. */
const inForce = (change: SetChange) => {
  draftRate(app, t.owner, change);
  saveDraft(
    app,
    t.owner,
    dateDraft(
      app,
      t.owner,
      new Date(app.clock.now() + 29 * day).toISOString().slice(0, 16),
      openDraft(app, t.owner)!.version,
    ).version,
  );
  t.setTime(app.clock.now() + 30 * day);
};
/** What a draft of this change says of cuts; the draft is taken out again. */
const affiliateBy = (handle: string) =>
  app.sqlite.prepare('SELECT id FROM affiliates WHERE handle = ?').pluck().get(handle) as Id<'affiliate'>;
const cutOf = (change: SetChange): string | null => {
  const view = draftRate(app, t.owner, change);
  const said = view.changes.at(-1)!.cut;
  expect(view.ready).toBe(said === null);
  app.sqlite.exec('DELETE FROM drafts');
  return said;
};

beforeEach(() => {
  t = testApp();
  app = t.app;
  ids = {
    wheel: make('WHEEL-1', {}),
    roll: make('ROLL-1', { price: '20.00' }),
    box: make('BOX-1', {
      kind: 'recurring',
      price: '24.00',
      renewalPrice: '24.00',
      renewalRewardKind: 'percent',
      renewalReward: '10',
    }),
  };
  addAffiliate(app, 'Mara');
  addAffiliate(app, 'Iris');
});

it('a cut is found by whichever act it comes: a range of renewals that ends where it did not', () => {
  const to = (last: number | null, after: 'nothing' | 'next') =>
    rate(
      everyone,
      { of: 'product', id: ids.box! },
      { event: 'renewal', payments: { first: 2, last, after } },
    );
  expect(cutOf(to(6, 'nothing'))).toBe('BOX-1, payment 7: €2.40 → €0.00 for Mara and 1 other');
  expect(cutOf(to(6, 'next'))).toBeNull();
  expect(cutOf(to(null, 'nothing'))).toBeNull();
});
it('a cut: a flat for a percentage, and a percentage for a flat on a cheaper step of a funnel', () => {
  app.db.insert(funnels).values({ id: 'fun_1', name: 'F', opening: ids.wheel!, createdAt: 0 }).run();
  app.db
    .insert(funnelSteps)
    .values({ code: 'up-1', funnel: 'fun_1', product: ids.roll!, position: 0, price: 1000 })
    .run();
  expect(
    cutOf(
      rate(everyone, { of: 'product', id: ids.wheel! }, { reward: { kind: 'flat-order', value: '9.99' } }),
    ),
  ).toBe('WHEEL-1, first sale: €10.00 → €9.99 for Mara and 1 other');
  expect(
    cutOf(
      rate(everyone, { of: 'product', id: ids.wheel! }, { reward: { kind: 'flat-order', value: '10.00' } }),
    ),
  ).toBe('WHEEL-1, first sale of 2: €20.00 → €10.00 for Mara and 1 other');
  expect(
    cutOf(
      rate(everyone, { of: 'product', id: ids.wheel! }, { reward: { kind: 'flat-unit', value: '10.00' } }),
    ),
  ).toBeNull();
  inForce(
    rate(everyone, { of: 'product', id: ids.roll! }, { reward: { kind: 'flat-order', value: '2.00' } }),
  );
  // 10 % is the same €2.00 at the product's own 20.00, and €1.00 where the step sells it at 10.00
  expect(cutOf(rate(everyone, { of: 'product', id: ids.roll! }))).toBe(
    'ROLL-1 at up-1, first sale: €2.00 → €1.00 for Mara and 1 other',
  );
});
it('a cut: a cap, a band above the price, a personal rate below the group, the early end of a coming uplift', () => {
  expect(cutOf(rate(everyone, { of: 'product', id: ids.wheel! }, { cap: '5.00' }))).toContain(
    '€10.00 → €5.00',
  );
  const group = createSet(app, t.owner, { of: 'group', name: 'Circle', about: '' }).id;
  addMembers(app, t.owner, group, { text: 'mara', others: 'move' });
  inForce(
    rate({ of: 'group', id: group }, { of: 'everything' }, { reward: { kind: 'percent', value: '20' } }),
  );
  const mara = affiliateBy('mara');
  expect(cutOf(rate({ of: 'affiliate', id: mara }, { of: 'everything' }))).toContain('for Mara');
  expect(
    cutOf(
      rate(
        { of: 'group', id: group },
        { of: 'everything' },
        { reward: { kind: 'bands', bands: [{ from: '150.00', kind: 'percent', value: '40' }] } },
      ),
    ),
  ).toContain('€4.80 → €2.40 for Mara');
  inForce(
    rate(
      everyone,
      { of: 'product', id: ids.wheel! },
      {
        mode: 'up-to',
        reward: { kind: 'percent', value: '30' },
        until: new Date(app.clock.now() + 300 * day).toISOString().slice(0, 16),
        label: 'Fair',
      },
    ),
  );
  const fair = app.sqlite.prepare("SELECT id FROM rates WHERE label = 'Fair'").pluck().get() as Id<'rate'>;
  expect(draftSwitch(app, t.owner, { op: 'end', id: fair }).changes[0]!.cut).toContain(
    'WHEEL-1, first sale: €30.00 → €20.00',
  );
  app.sqlite.exec('DELETE FROM drafts');
  expect(
    draftSwitch(app, t.owner, { op: 'lock', id: ids.wheel!, event: 'sale', on: true }).changes[0]!.cut,
  ).toContain('WHEEL-1');
});
it('a cut: what one change of a draft takes and another gives is none', () => {
  const group = createSet(app, t.owner, { of: 'group', name: 'Circle', about: '' }).id;
  addMembers(app, t.owner, group, { text: 'mara', others: 'move' });
  inForce(
    rate({ of: 'group', id: group }, { of: 'everything' }, { reward: { kind: 'percent', value: '20' } }),
  );
  const old = app.sqlite
    .prepare('SELECT id FROM rates WHERE who = ? AND valid_until IS NULL')
    .pluck()
    .get(group) as Id<'rate'>;
  draftSwitch(app, t.owner, { op: 'end', id: old });
  const view = draftRate(
    app,
    t.owner,
    rate(
      { of: 'group', id: group },
      { of: 'product', id: ids.wheel! },
      { reward: { kind: 'percent', value: '25' } },
    ),
  );
  expect([view.cuts, view.changes.map((c) => c.cut === null)]).toEqual([1, [false, true]]);
  draftRate(
    app,
    t.owner,
    rate(
      { of: 'group', id: group },
      { of: 'product', id: ids.roll! },
      { reward: { kind: 'percent', value: '25' } },
    ),
  );
  expect(
    draftRate(
      app,
      t.owner,
      rate(
        { of: 'group', id: group },
        { of: 'product', id: ids.box! },
        { reward: { kind: 'percent', value: '25' } },
      ),
    ),
  ).toMatchObject({ cuts: 0, ready: true });
});
it('a cut is found by whichever act it comes: nobody who has joined is promised nothing', () => {
  app.sqlite.exec('UPDATE affiliates SET joined_at = NULL');
  expect(
    cutOf(rate(everyone, { of: 'product', id: ids.wheel! }, { reward: { kind: 'percent', value: '1' } })),
  ).toBeNull();
});

let low: Id<'set'>;
let mara: Id<'affiliate'>;
const group = () => readPlaces(app, mara).group;
/** A group that earns less than everybody, and Mara, who is not in it. */
function lowGroup(): void {
  low = createSet(app, t.owner, { of: 'group', name: 'Low', about: '' }).id;
  inForce(
    rate(
      { of: 'group', id: low },
      { of: 'product', id: ids.wheel! },
      { reward: { kind: 'percent', value: '4' } },
    ),
  );
  mara = affiliateBy('mara');
}

describe('members moved to lower terms wait for the notice', () => {
  beforeEach(lowGroup);
  it('by adding members: those who would earn less come later, the others now', () => {
    const rich = createSet(app, t.owner, { of: 'card', name: 'Poor', about: '' }).id;
    addMembers(app, t.owner, rich, { text: 'iris', others: 'move' });
    inForce(
      rate({ of: 'card', id: rich }, { of: 'everything' }, { reward: { kind: 'percent', value: '4' } }),
    );
    const from = app.clock.during(() => {
      const notice = app.clock.now() + 14 * day;
      expect(previewMembers(app, low, 'mara, iris').later).toEqual({
        count: 1,
        from: notice,
        cut: 'WHEEL-1, first sale: €10.00 → €4.00 for Mara',
      });
      expect(addMembers(app, t.owner, low, { text: 'mara, iris', others: 'move' }).later).toMatchObject({
        count: 1,
        from: notice,
      });
      return notice;
    });
    expect([group(), readPlaces(app, affiliateBy('iris')).group]).toEqual([null, low]);
    t.setTime(from);
    expect(group()).toBe(low);
  });
  it('a second move with a notice of its own leaves nobody in between', () => {
    const [first, lower] = ['First', 'Lower'].map(
      (name) => createSet(app, t.owner, { of: 'group', name, about: '' }).id,
    );
    addMembers(app, t.owner, first!, { text: 'mara', others: 'move' });
    inForce(
      rate(
        { of: 'group', id: first! },
        { of: 'product', id: ids.wheel! },
        { reward: { kind: 'percent', value: '20' } },
      ),
    );
    inForce(
      rate(
        { of: 'group', id: lower! },
        { of: 'product', id: ids.wheel! },
        { reward: { kind: 'percent', value: '3' } },
      ),
    );
    const one = addMembers(app, t.owner, low, { text: 'mara', others: 'move' }).later!.from;
    t.setTime(app.clock.now() + 3 * day);
    const other = addMembers(app, t.owner, lower!, { text: 'mara', others: 'move' }).later!.from;
    t.setTime(one);
    expect(group()).toBe(first);
    t.setTime(other - 60_000);
    expect(group()).toBe(first);
    t.setTime(other);
    expect(group()).toBe(lower);
  });
});

it('whoever is on the way to a group keeps what it was told: its rate cannot be ended before', () => {
  const rateOf = (group: Id<'set'>, value: string) =>
    inForce(rate({ of: 'group', id: group }, { of: 'everything' }, { reward: { kind: 'percent', value } }));
  const [circle, trade] = ['Circle', 'Trade'].map(
    (name) => createSet(app, t.owner, { of: 'group', name, about: '' }).id,
  );
  rateOf(circle!, '20');
  rateOf(trade!, '15');
  addMembers(app, t.owner, circle!, { text: 'mara', others: 'move' });
  expect(addMembers(app, t.owner, trade!, { text: 'mara', others: 'move' }).later?.count).toBe(1);
  t.setTime(app.clock.now() + 3 * day);
  // nobody is in the group yet: mara comes in eleven days, and was told 15 %
  const own = app.sqlite
    .prepare('SELECT id FROM rates WHERE who = ? AND valid_until IS NULL')
    .pluck()
    .get(trade) as Id<'rate'>;
  expect(draftSwitch(app, t.owner, { op: 'end', id: own })).toMatchObject({
    ready: false,
    changes: [{ cut: 'BOX-1, first sale: €3.60 → €2.40 for Mara' }],
  });
});

it('taking back an act on many that pays more says who keeps it until the notice is over', () => {
  lowGroup();
  const high = createSet(app, t.owner, { of: 'tag', name: 'High', about: '' }).id;
  inForce(
    rate(
      { of: 'tag', id: high },
      { of: 'product', id: ids.wheel! },
      { reward: { kind: 'percent', value: '50' } },
    ),
  );
  const tagged = () => readPlaces(app, mara).tags.includes(high);
  const done = doBulk(app, t.owner, { ids: [mara], what: 'tag-on', to: high });
  const from = app.clock.during(() => {
    const notice = app.clock.now() + 14 * day;
    expect(undoBulk(app, t.owner, done.id!)).toMatchObject({
      done: 1,
      passed: 0,
      later: { count: 1, from: notice },
    });
    return notice;
  });
  expect(tagged()).toBe(true);
  t.setTime(from);
  expect(tagged()).toBe(false);
});

describe('moves of many to lower terms wait for the notice', () => {
  beforeEach(lowGroup);
  it('in bulk, and taking it back stops what has not happened yet', () => {
    const act = { ids: [mara], what: 'group' as const, to: low };
    expect(previewBulk(app, act).later).toMatchObject({ count: 1 });
    const done = doBulk(app, t.owner, act);
    expect([done.done, done.later?.count, group()]).toEqual([1, 1, null]);
    expect(undoBulk(app, t.owner, done.id!)).toEqual({ done: 1, passed: 0, later: null });
    t.setTime(app.clock.now() + 20 * day);
    expect(group()).toBeNull();
  });
  it('by a list that is read in', () => {
    expect(
      runImport(app, t.owner, { csv: 'handle,group\nmara,Low\n', from: 0, most: 10, tell: false }),
    ).toMatchObject({ changed: 1 });
    expect(group()).toBeNull();
    t.setTime(app.clock.now() + 14 * day);
    expect(group()).toBe(low);
  });
  it('by the order of tags', () => {
    const [a, b] = ['Alpha', 'Beta'].map(
      (name) => createSet(app, t.owner, { of: 'tag', name, about: '' }).id,
    );
    for (const [tag, value] of [
      [a, '30'],
      [b, '20'],
    ] as const)
      inForce(rate({ of: 'tag', id: tag! }, { of: 'everything' }, { reward: { kind: 'percent', value } }));
    addMembers(app, t.owner, a!, { text: 'mara', others: 'move' });
    addMembers(app, t.owner, b!, { text: 'mara', others: 'move' });
    const done = app.clock.during(() => {
      const ordered = orderTags(app, t.owner, [b!, a!]);
      expect(ordered.from).toBe(app.clock.now() + 14 * day);
      return ordered;
    });
    expect(tagOrder(app)).toEqual([a, b]);
    t.setTime(done.from!);
    expect([
      tagOrder(app),
      listSets(app)
        .rows.filter((s) => s.of === 'tag')
        .map((s) => s.name),
    ]).toEqual([
      [b, a],
      ['Beta', 'Alpha'],
    ]);
  });
});
