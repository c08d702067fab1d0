import { expect, it } from 'vitest';
import { touch } from '../../../src/server/ground/cache';
import { createProduct, moveProduct } from '../../../src/server/setup/products/service';
import { readProduct } from '../../../src/server/setup/products/view';
import { ask } from '../../../src/server/setup/terms/ask';
import { saveDraft } from '../../../src/server/setup/terms/draft-save';
import { openDraft } from '../../../src/server/setup/terms/draft-store';
import { draftShown } from '../../../src/server/setup/terms/draft-view';
import {
  dateDraft,
  discardDraft,
  draftRate,
  draftSwitch,
  dropChange,
} from '../../../src/server/setup/terms/drafts';
import { readRateBook } from '../../../src/server/setup/terms/ratebook';
import { removeSet } from '../../../src/server/setup/terms/set-removal';
import { createSet, listSets } from '../../../src/server/setup/terms/sets';
import { readTimeline, undoTimeline } from '../../../src/server/setup/terms/timeline';
import { addAffiliate } from '../../helpers/app';
import { app, cell, course, faultsOf, prepare, rateFor, t, wheel } from './world';

prepare();

const group = () => createSet(app, t.owner, { of: 'group', name: 'Studio circle', about: '' });
it('gathers several edits, shows them in the book, and counts only once saved', () => {
  const g = group();
  const column = { of: 'group' as const, id: g.id };
  draftRate(app, t.owner, rateFor(column, { of: 'product', id: wheel }, '14'));
  draftRate(app, t.owner, rateFor(column, { of: 'product', id: course }, '33'));
  const view = draftRate(app, t.owner, rateFor(column, { of: 'product', id: wheel }, '15'));
  expect(view.changes.map((c) => [c.place, c.before, c.after])).toEqual([
    ['Wheel, group Studio circle', '8 %', '15 %'],
    ['Course, group Studio circle', '30 %', '33 %'],
  ]);
  expect(cell('Studio circle', 'Wheel')).toMatchObject({ text: '15 %', from: 'here', was: '8 %' });
  expect(ask(app, t.owner, { column: 'group', who: g.id, product: wheel }).total.amount).toBe(1592);
  expect(ask(app, t.owner, { column: 'group', who: g.id, product: wheel, draft: true }).total.amount).toBe(
    2985,
  );
  expect(readRateBook(app, t.finance, {}).rows[0]!.cells.every((c) => c.was === null)).toBe(true);
  expect(saveDraft(app, t.owner, view.version)).toMatchObject({ saved: 2 });
  expect(openDraft(app, t.owner)).toBeNull();
  expect(cell('Studio circle', 'Wheel')).toMatchObject({ text: '15 %', from: 'here', was: null });
  expect(cell('Everyone', 'Wheel').text).toBe('8 %');
});
it('can be dated: before it begins nothing changes, the book shows the day, and it can be undone until then', () => {
  const g = group();
  let view = draftRate(app, t.owner, rateFor({ of: 'group', id: g.id }, { of: 'product', id: wheel }, '14'));
  view = dateDraft(app, t.owner, '2027-02-01T09:00', view.version);
  expect(view.from).toBe(Date.parse('2027-02-01T09:00:00Z'));
  saveDraft(app, t.owner, view.version);
  expect(cell('Studio circle', 'Wheel').text).toBe('8 %');
  expect(cell('Studio circle', 'Wheel', { day: '2027-02-02' }).text).toBe('14 %');
  const coming = readTimeline(app, { state: 'coming' }).rows;
  expect(coming.map((r) => [r.place, r.what, r.state, r.by, r.undoes])).toEqual([
    ['Wheel, group Studio circle', '14 %', 'coming', 'owner', 'change'],
  ]);
  undoTimeline(app, t.owner, coming[0]!.id);
  expect(cell('Studio circle', 'Wheel', { day: '2027-02-02' }).text).toBe('8 %');
  expect(readTimeline(app, { state: 'coming' }).rows).toEqual([]);
});
it('undoing what would have taken over lets the old one run on', () => {
  let view = draftRate(app, t.owner, rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '12'));
  view = dateDraft(app, t.owner, '2027-02-01T09:00', view.version);
  saveDraft(app, t.owner, view.version);
  expect(cell('Everyone', 'Wheel', { day: '2027-02-02' }).text).toBe('12 %');
  undoTimeline(app, t.owner, readTimeline(app, { state: 'coming' }).rows[0]!.id);
  expect(cell('Everyone', 'Wheel', { day: '2027-02-02' }).text).toBe('8 %');
});
it('what has begun cannot be undone', () => {
  const view = draftRate(app, t.owner, rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '12'));
  saveDraft(app, t.owner, view.version);
  expect(faultsOf(() => undoTimeline(app, t.owner, readTimeline(app, {}).rows[0]!.id))[0]).toMatch(
    /has begun/,
  );
});
it('a cut keeps the notice that the programme promises; a raise may begin at once', () => {
  addAffiliate(app, 'Mara');
  let view = app.clock.during(() => {
    const drafted = draftRate(app, t.owner, rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '6'));
    expect(drafted.earliest).toBe(app.clock.now() + 14 * 86_400_000);
    return drafted;
  });
  expect([view.cuts, view.ready]).toEqual([1, false]);
  expect(view.changes[0]!.cut).toBe('Wheel, first sale: €15.92 → €11.94 for Mara');
  expect(faultsOf(() => saveDraft(app, t.owner, view.version))[0]).toMatch(
    /^\/from A change cuts what somebody earns, and the programme promises 2 weeks of notice/,
  );
  view = dateDraft(app, t.owner, '2027-01-18T09:01', view.version);
  expect(view.ready).toBe(true);
  saveDraft(app, t.owner, view.version);
  expect(cell('Everyone', 'Wheel', { day: '2027-01-19' }).text).toBe('6 %');
});
it('a personal rate that pays less than the group is a cut too, and so is ending a better one', () => {
  const mara = addAffiliate(app, 'Mara');
  expect(
    draftRate(app, t.owner, rateFor({ of: 'affiliate', id: mara.id }, { of: 'everything' }, '10')).changes[0]!
      .cut,
  ).toBe('Course, first sale: €26.70 → €8.90 for Mara');
  discardDraft(app, t.owner, openDraft(app, t.owner)!.version);
  const present = cell('Everyone', 'Course').rate!;
  expect(draftSwitch(app, t.owner, { op: 'end', id: present })).toMatchObject({ cuts: 1 });
});
it('a start in the past is allowed and said; what is granted stays', () => {
  const view = draftRate(
    app,
    t.owner,
    rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '12', { from: '2027-01-01T00:00' }),
  );
  expect(dateDraft(app, t.owner, '2027-01-01T00:00', view.version).past).toBe(true);
});
it.each([
  [
    rateFor({ of: 'everyone' }, { of: 'everything' }, '100.00001'),
    '/reward Reward: at most four decimals of a percent, not 5',
  ],
  [
    rateFor({ of: 'everyone' }, { of: 'everything' }, '101'),
    '/reward Reward: more than 100 % of a sale cannot be paid',
  ],
  [rateFor({ of: 'everyone' }, { of: 'everything' }, ''), '/reward Reward is empty'],
  [
    rateFor({ of: 'everyone' }, { of: 'everything' }, '0', { mode: 'plus' }),
    '/reward An uplift of nothing raises nothing',
  ],
  [
    rateFor({ of: 'everyone' }, { of: 'everything' }, '9', {
      from: '2027-03-01T00:00',
      until: '2027-02-01T00:00',
    }),
    '/until The end is not after the start',
  ],
  [
    rateFor({ of: 'everyone' }, { of: 'everything' }, '9', { from: '2027-02-30T00:00' }),
    '/from Start is not a day and time of the calendar',
  ],
  [
    rateFor({ of: 'everyone' }, { of: 'everything' }, '', { reward: { kind: 'bands', bands: [] } }),
    '/bands Order bands need at least one threshold',
  ],
  [
    rateFor({ of: 'everyone' }, { of: 'everything' }, '', {
      reward: {
        kind: 'bands',
        bands: [
          { from: '60.00', kind: 'percent', value: '10' },
          { from: '60.00', kind: 'percent', value: '12' },
        ],
      },
    }),
    '/bands Two order bands begin at the same value; an order there could take either',
  ],
  [
    rateFor({ of: 'everyone' }, { of: 'everything' }, '9', { cap: '0' }),
    '/cap A cap of nothing would pay nothing; set the rate to 0 % instead',
  ],
  [rateFor({ of: 'group' }, { of: 'everything' }, '9'), '/column Column: it is not said who'],
])('refuses %# with the field and the reason', (input, expected) => {
  expect(faultsOf(() => draftRate(app, t.owner, input))[0]).toBe(expected);
});
it('a rate of 0 % can be set: it says that something earns nothing', () => {
  const view = draftRate(app, t.owner, rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '0'));
  expect(view.changes[0]).toMatchObject({ after: '0 %', faults: [] });
});
it('two people editing the same rate: the second is told what the first set', () => {
  const mine = draftRate(app, t.owner, rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '12'));
  const theirs = draftRate(app, t.finance, rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '14'));
  saveDraft(app, t.finance, theirs.version);
  expect(faultsOf(() => saveDraft(app, t.owner, mine.version))[0]).toContain(
    'finance changed this rate meanwhile: it was 8 %, it is 14 %, yours would be 12 %. Set yours again',
  );
  const again = draftRate(app, t.owner, rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '15'));
  t.setTime(app.clock.now() + 1000);
  saveDraft(app, t.owner, again.version);
  expect(cell('Everyone', 'Wheel').text).toBe('15 %');
});
it('a draft whose product or group is gone meanwhile is not lost, and says so', () => {
  const g = group();
  draftRate(app, t.owner, rateFor({ of: 'group', id: g.id }, { of: 'product', id: wheel }, '15'));
  draftRate(app, t.owner, rateFor({ of: 'everyone' }, { of: 'product', id: course }, '35'));
  moveProduct(app, t.owner, wheel, { to: 'retired', version: readProduct(app, wheel).version });
  removeSet(app, t.finance, g.id, { to: null, version: g.version });
  const view = draftShown(app, openDraft(app, t.owner)!);
  expect(view.changes[0]!.faults.map((f) => f.what)).toEqual([
    expect.stringMatching(/Wheel was retired meanwhile/),
    expect.stringMatching(/group Studio circle was removed meanwhile/),
  ]);
  expect(faultsOf(() => saveDraft(app, t.owner, view.version)).length).toBe(2);
  const rest = dropChange(app, t.owner, view.changes[0]!.id)!;
  expect(saveDraft(app, t.owner, rest.version)).toMatchObject({ saved: 1 });
});
it('a tie is refused with both named', () => {
  let view = draftRate(
    app,
    t.owner,
    rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '12', { from: '2027-02-01T09:00' }),
  );
  saveDraft(app, t.owner, view.version);
  view = draftRate(
    app,
    t.owner,
    rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '13', { from: '2027-02-01T09:00' }),
  );
  expect(view.changes[0]!.faults.some((f) => /would tie with “Wheel, everyone”, 12 %/.test(f.what))).toBe(
    true,
  );
});
it('a rate with which commission and referral could exceed the sale is refused with the worst case', () => {
  app.db.run("UPDATE programme SET referral_ppm = 60000, referral_of = 'sale'");
  touch(app, 'records');
  const view = draftRate(app, t.owner, rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '96'));
  expect(view.changes[0]!.faults[0]!.what).toMatch(
    /On Wheel the highest rate 96 % and the referral share of 6 % of the sale could come to 102 %/,
  );
});
it('a lock and a pause go through the draft; the group’s form lists the products that ignore it', () => {
  const g = group();
  const view = draftSwitch(app, t.owner, { op: 'lock', id: wheel, on: true });
  expect(view.changes[0]).toMatchObject({
    place: 'Wheel, first payments',
    before: 'not locked',
    after: 'locked',
  });
  saveDraft(app, t.owner, view.version);
  expect(cell('Studio circle', 'Wheel').locked).toBe(true);
  expect(listSets(app).rows.find((s) => s.id === g.id)!.ignoredBy).toEqual(['Wheel']);
  expect(
    draftRate(app, t.owner, rateFor({ of: 'group', id: g.id }, { of: 'everything' }, '35')).changes[0]!
      .ignoredBy,
  ).toEqual(['Wheel']);
});
it('keeps rates for different payments apart, and names a range that leaves nothing for the next', () => {
  const box = createProduct(app, t.owner, {
    code: 'BOX-M',
    name: 'Box',
    description: 'x',
    currency: 'EUR',
    price: '5.00',
    refundDays: 14,
    salesPage: '',
    rewardKind: 'none',
    reward: '',
    kind: 'recurring',
    renewalPrice: '24.00',
  }).id;
  const range = (first: number, last: number, after: 'nothing' | 'next', value: string) =>
    draftRate(
      app,
      t.owner,
      rateFor({ of: 'everyone' }, { of: 'product', id: box }, value, {
        event: 'renewal',
        payments: { first, last, after },
      }),
    );
  range(2, 6, 'nothing', '10');
  const view = range(7, 12, 'next', '5');
  expect(view.changes.map((c) => c.after)).toEqual([
    '10 %, payments 2–6, then nothing',
    '5 %, payments 7–12',
  ]);
  expect(view.changes[1]!.faults[0]!.what).toMatch(/would tie/);
  const mended = range(2, 6, 'next', '10');
  expect(mended.changes).toHaveLength(3);
  const left = dropChange(app, t.owner, mended.changes[0]!.id)!;
  expect(left.ready).toBe(true);
  saveDraft(app, t.owner, left.version);
  const earns = (payment: number) =>
    ask(app, t.owner, { column: 'everyone', product: box, event: 'renewal', payment, value: '24.00' }).total
      .amount;
  expect([2, 6, 7, 12, 13].map(earns)).toEqual([240, 240, 120, 120, 0]);
});
it('plans an uplift for a week, and the book shows it then and not after', () => {
  const view = draftRate(
    app,
    t.owner,
    rateFor({ of: 'everyone' }, { of: 'everything' }, '15', {
      mode: 'up-to',
      from: '2027-02-01T00:00',
      until: '2027-02-08T00:00',
      label: 'Spring week',
    }),
  );
  saveDraft(app, t.owner, view.version);
  expect(cell('Everyone', 'Wheel', { day: '2027-01-31' })).toMatchObject({ text: '8 %', uplift: null });
  expect(cell('Everyone', 'Wheel', { day: '2027-02-07' })).toMatchObject({
    text: '15 %',
    uplift: { label: 'Spring week', until: Date.parse('2027-02-08T00:00:00Z') },
  });
  expect(cell('Everyone', 'Course', { day: '2027-02-07' })).toMatchObject({ text: '30 %', uplift: null });
  expect(cell('Everyone', 'Wheel', { day: '2027-02-08' }).text).toBe('8 %');
});
