import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { SetChange } from '../../src/contract/setup/rate-book';
import { touch } from '../../src/server/ground/cache';
import type { App } from '../../src/server/ground/context';
import { Problem } from '../../src/server/ground/http/problem';
import { products } from '../../src/server/ground/tables/catalogue';
import { createProduct, editProduct, moveProduct } from '../../src/server/setup/products/service';
import { readProduct } from '../../src/server/setup/products/view';
import { ask } from '../../src/server/setup/terms/ask';
import { saveDraft } from '../../src/server/setup/terms/draft-save';
import { openDraft } from '../../src/server/setup/terms/draft-store';
import { show } from '../../src/server/setup/terms/draft-view';
import {
  dateDraft,
  discardDraft,
  draftRate,
  draftSwitch,
  dropChange,
} from '../../src/server/setup/terms/drafts';
import { listMembers } from '../../src/server/setup/terms/member-list';
import { addMembers, dropMembers, previewMembers } from '../../src/server/setup/terms/members';
import { previewPlaces, readPlaces, setPlaces } from '../../src/server/setup/terms/places';
import { readRateBook } from '../../src/server/setup/terms/ratebook';
import { cancelRehearsal, readRehearsal, startRehearsal } from '../../src/server/setup/terms/rehearsals';
import { inForceNow } from '../../src/server/setup/terms/service';
import { previewRemoval, removeSet } from '../../src/server/setup/terms/set-removal';
import { restoreSet } from '../../src/server/setup/terms/set-restore';
import { createSet, editSet, listSets, makeStandard, pauseSet } from '../../src/server/setup/terms/sets';
import { theTerms } from '../../src/server/setup/terms/store';
import { orderTags } from '../../src/server/setup/terms/tag-order';
import { readTimeline, undoTimeline } from '../../src/server/setup/terms/timeline';
import { addAffiliate, testApp, type TestApp } from '../helpers/app';

let t: TestApp;
let app: App;
let wheel: string;
let course: string;
const faultsOf = (work: () => unknown): string[] => {
  try {
    work();
  } catch (fault) {
    if (fault instanceof Problem)
      return fault.errors?.length ? fault.errors.map((e) => `${e.pointer} ${e.detail}`) : [fault.message];
    throw fault;
  }
  return [];
};
const product = (code: string, name: string, price: string, reward: string) => {
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
const rateFor = (
  column: SetChange['column'],
  row: SetChange['row'],
  value: string,
  more: Partial<SetChange> = {},
): SetChange => ({ column, row, event: 'sale', mode: 'base', reward: { kind: 'percent', value }, ...more });
const cell = (column: string, row: string, query = {}) => {
  const book = readRateBook(app, t.owner, query);
  const c = book.columns.findIndex((x) => x.name === column);
  return book.rows.find((r) => r.name === row)!.cells[c]!;
};

beforeEach(() => {
  t = testApp();
  app = t.app;
  wheel = product('WHEEL-1', 'Wheel', '199.00', '8');
  course = product('THROW-V', 'Course', '89.00', '30');
});
beforeAll(() => undefined);
afterAll(() => app.close());

describe('cards, groups and tags', () => {
  it('there is one card from the start, and it cannot be removed', () => {
    const [card] = listSets(app).rows;
    expect([card!.of, card!.name, card!.standard]).toEqual(['card', 'Standard', true]);
    expect(
      faultsOf(() => removeSet(app, t.owner, card!.id, { to: null, version: card!.version }))[0],
    ).toMatch(/make another the one first/);
  });
  it('names are unique within a kind, and a stale edit is refused', () => {
    const makers = createSet(app, t.owner, { of: 'card', name: 'Makers', about: '' });
    expect(faultsOf(() => createSet(app, t.owner, { of: 'card', name: 'makers', about: '' }))[0]).toMatch(
      /called Makers already/,
    );
    createSet(app, t.owner, { of: 'group', name: 'Makers', about: '' });
    editSet(app, t.owner, makers.id, { name: 'Makers', about: 'Potters', version: makers.version });
    expect(
      faultsOf(() => editSet(app, t.owner, makers.id, { name: 'X', about: '', version: makers.version }))[0],
    ).toMatch(/changed Makers meanwhile/);
  });
  it('takes ten thousand pasted handles with spaces, doubles and unknown ones, and says what each came to', () => {
    const [a, b, c] = ['Mara', 'Iris', 'Tomas'].map((n) => addAffiliate(app, n));
    const group = createSet(app, t.owner, { of: 'group', name: 'Studio circle', about: '' });
    const other = createSet(app, t.owner, { of: 'group', name: 'Teachers', about: '' });
    addMembers(app, t.owner, other.id, { text: 'tomas', others: 'move' });
    const text = `  Mara ,iris;@tomas\n${Array.from({ length: 10_000 }, (_, i) => (i % 100 === 0 ? ' mara ' : `nobody-${i}`)).join('\n')}`;
    const preview = previewMembers(app, group.id, text);
    expect(preview.counts).toEqual({ add: 2, move: 1, already: 0, repeated: 100, unknown: 9900 });
    expect(preview.lines.find((l) => l.outcome === 'move')).toMatchObject({
      said: 'tomas',
      name: 'Tomas',
      from: 'Teachers',
      line: 1,
    });
    expect(readPlaces(app, a!.id).group).toBeNull();
    expect(addMembers(app, t.owner, group.id, { text, others: 'keep' })).toMatchObject({
      added: 2,
      moved: 0,
      kept: 1,
      unknown: 9900,
    });
    expect([a, b, c].map((x) => readPlaces(app, x!.id).group)).toEqual([group.id, group.id, other.id]);
    expect(addMembers(app, t.owner, group.id, { text: 'tomas, mara', others: 'move' })).toMatchObject({
      moved: 1,
      already: 1,
    });
    expect(listMembers(app, group.id, {}).rows.map((r) => r.name)).toEqual(['Iris', 'Mara', 'Tomas']);
    expect(listMembers(app, other.id, {}).rows).toEqual([]);
    expect(faultsOf(() => previewMembers(app, group.id, ' ,\n'))[0]).toMatch(/nobody is named/);
    expect(dropMembers(app, t.owner, group.id, [a!.id])).toEqual({ dropped: 1, later: null });
    expect(readPlaces(app, a!.id).group).toBeNull();
  });
  it('shows an affiliate’s terms before and after, and changes nothing until asked', () => {
    const mara = addAffiliate(app, 'Mara');
    const group = createSet(app, t.owner, { of: 'group', name: 'Studio circle', about: '' });
    draftRate(app, t.owner, rateFor({ of: 'group', id: group.id }, { of: 'everything' }, '15'));
    saveDraft(app, t.owner, openDraft(app, t.owner)!.version);
    const change = previewPlaces(app, mara.id, { group: group.id });
    expect(change.changes).toEqual([
      { product: 'Course', before: '30 %', after: '15 %' },
      { product: 'Wheel', before: '8 %', after: '15 %' },
    ]);
    expect(readPlaces(app, mara.id).group).toBeNull();
    t.setTime(app.clock.now() + 1000);
    // on the course it earns less: it comes into the group when the notice is over
    const from = app.clock.now() + 14 * 86_400_000;
    expect(setPlaces(app, t.owner, mara.id, { group: group.id }).later).toEqual({
      count: 1,
      from,
      cut: 'Course, first sale: €26.70 → €13.35 for Mara',
    });
    expect(readPlaces(app, mara.id).group).toBeNull();
    t.setTime(from);
    expect(ask(app, t.owner, { column: 'affiliate', who: mara.id, product: wheel }).total.amount).toBe(2985);
    expect(faultsOf(() => pauseSet(app, t.owner, group.id, true))[0]).toMatch(
      /^\/on Somebody would earn less \(Wheel, first sale: €29.85 → €15.92 for Mara\), and the programme promises 2 weeks of notice: pause it in a draft of the rate book/,
    );
    draftSwitch(app, t.owner, { op: 'pause', id: group.id, on: true });
    const later = dateDraft(app, t.owner, '2027-02-02T09:00', openDraft(app, t.owner)!.version);
    saveDraft(app, t.owner, later.version);
    t.setTime(Date.parse('2027-02-02T09:00:00Z'));
    expect(ask(app, t.owner, { column: 'affiliate', who: mara.id, product: wheel }).total.amount).toBe(1592);
  });
  it('removing a group ends its rates, takes nobody out, and can be taken back', () => {
    const mara = addAffiliate(app, 'Mara');
    const group = createSet(app, t.owner, { of: 'group', name: 'Studio circle', about: '' });
    addMembers(app, t.owner, group.id, { text: 'mara', others: 'move' });
    draftRate(app, t.owner, rateFor({ of: 'group', id: group.id }, { of: 'everything' }, '35'));
    saveDraft(app, t.owner, openDraft(app, t.owner)!.version);
    t.setTime(app.clock.now() + 60_000);
    expect(previewRemoval(app, group.id, undefined)).toMatchObject({
      members: 1,
      rates: 1,
      blocked: null,
      sample: [
        {
          name: 'Mara',
          changes: [
            { product: 'Course', before: '35 %', after: '30 %' },
            { product: 'Wheel', before: '35 %', after: '8 %' },
          ],
        },
      ],
    });
    expect(
      faultsOf(() => removeSet(app, t.owner, group.id, { to: null, version: group.version }))[0],
    ).toMatch(
      /^\/set Somebody would earn less .* end its rates in the rate book from that day on, then remove it/,
    );
    // after the notice its rate has ended, and nothing stands against removing it; taken back, it is as it was, with its end
    draftSwitch(app, t.owner, { op: 'end', id: cell('Studio circle', 'Wheel').rate! });
    saveDraft(
      app,
      t.owner,
      dateDraft(app, t.owner, '2027-01-20T09:00', openDraft(app, t.owner)!.version).version,
    );
    draftRate(
      app,
      t.owner,
      rateFor({ of: 'group', id: group.id }, { of: 'product', id: wheel }, '40', {
        from: '2027-03-01T09:00',
        until: '2027-03-09T09:00',
      }),
    );
    saveDraft(app, t.owner, openDraft(app, t.owner)!.version);
    t.setTime(Date.parse('2027-01-20T09:00:00Z'));
    const stood = () => theTerms(app).data.rates.map((r) => [r.from, r.until]);
    const before = stood();
    expect(removeSet(app, t.owner, group.id, { to: null, version: group.version })).toEqual({
      moved: 1,
      ended: 1,
    });
    expect(cell('Everyone', 'Wheel').text).toBe('8 %');
    expect(readPlaces(app, mara.id).group).toBeNull();
    t.setTime(app.clock.now() + 60_000);
    restoreSet(app, t.owner, group.id);
    expect([readPlaces(app, mara.id).group, stood()]).toEqual([group.id, before]);
  });
  it('an act on somebody that waits for its notice can be stopped, and a second one does not put it off', () => {
    const mara = addAffiliate(app, 'Mara');
    const low = createSet(app, t.owner, { of: 'group', name: 'Low', about: '' });
    draftRate(app, t.owner, rateFor({ of: 'group', id: low.id }, { of: 'everything' }, '1'));
    saveDraft(app, t.owner, openDraft(app, t.owner)!.version);
    const asked = addMembers(app, t.owner, low.id, { text: 'mara', others: 'move' });
    const from = asked.later!.from;
    t.setTime(app.clock.now() + 86_400_000);
    expect(addMembers(app, t.owner, low.id, { text: 'mara', others: 'move' })).toMatchObject({
      added: 0,
      already: 1,
      later: null,
    });
    const coming = () =>
      theTerms(app)
        .data.members.filter((m) => m.affiliate === mara.id && m.of === 'group')
        .map((m) => [m.from, m.until]);
    expect(coming()).toEqual([[from, null]]);
    setPlaces(app, t.owner, mara.id, { group: null, coming: 'stop' });
    expect(coming()).toEqual([[from, from]]);
    t.setTime(from + 1);
    expect(readPlaces(app, mara.id).group).toBeNull();
  });
  it('removing a card asks where its members go', () => {
    const mara = addAffiliate(app, 'Mara');
    const makers = createSet(app, t.owner, { of: 'card', name: 'Makers', about: '' });
    addMembers(app, t.owner, makers.id, { text: 'mara', others: 'move' });
    expect(
      faultsOf(() => removeSet(app, t.owner, makers.id, { to: null, version: makers.version }))[0],
    ).toMatch(/choose the card they move to/);
    removeSet(app, t.owner, makers.id, { to: 'set_standard', version: makers.version });
    expect(readPlaces(app, mara.id).card).toBe('set_standard');
  });
  it('another standard card changes nobody’s terms', () => {
    const mara = addAffiliate(app, 'Mara');
    const makers = createSet(app, t.owner, { of: 'card', name: 'Makers', about: '' });
    makeStandard(app, t.owner, makers.id);
    expect(readPlaces(app, mara.id).card).toBe('set_standard');
    expect(readPlaces(app, addAffiliate(app, 'Iris').id).card).toBe(makers.id);
  });
  it('the order of tags decides, from the moment it is changed', () => {
    const mara = addAffiliate(app, 'Mara');
    const [one, two] = ['early', 'launch'].map((name) =>
      createSet(app, t.owner, { of: 'tag', name, about: '' }),
    );
    setPlaces(app, t.owner, mara.id, { tags: [one!.id, two!.id] });
    draftRate(app, t.owner, rateFor({ of: 'tag', id: one!.id }, { of: 'everything' }, '40'));
    draftRate(app, t.owner, rateFor({ of: 'tag', id: two!.id }, { of: 'everything' }, '50'));
    saveDraft(app, t.owner, openDraft(app, t.owner)!.version);
    t.setTime(app.clock.now() + 60_000);
    const earns = () => ask(app, t.owner, { column: 'affiliate', who: mara.id, product: wheel }).total.amount;
    expect(earns()).toBe(7960);
    orderTags(app, t.owner, [two!.id, one!.id]);
    expect(earns()).toBe(9950);
    expect(faultsOf(() => orderTags(app, t.owner, [two!.id]))[0]).toMatch(/name every tag once/);
  });
});

describe('a draft', () => {
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
    let view = draftRate(
      app,
      t.owner,
      rateFor({ of: 'group', id: g.id }, { of: 'product', id: wheel }, '14'),
    );
    view = dateDraft(app, t.owner, '2027-02-01T09:00', view.version);
    expect(view.from).toBe(Date.parse('2027-02-01T09:00:00Z'));
    saveDraft(app, t.owner, view.version);
    expect(cell('Studio circle', 'Wheel').text).toBe('8 %');
    expect(cell('Studio circle', 'Wheel', { day: '2027-02-02' }).text).toBe('14 %');
    const coming = readTimeline(app, { state: 'coming' }).rows;
    expect(coming.map((r) => [r.place, r.what, r.state, r.by, r.undoable])).toEqual([
      ['Wheel, group Studio circle', '14 %', 'coming', 'owner', true],
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
    let view = draftRate(app, t.owner, rateFor({ of: 'everyone' }, { of: 'product', id: wheel }, '6'));
    expect([view.cuts, view.ready, view.earliest]).toEqual([1, false, app.clock.now() + 14 * 86_400_000]);
    expect(view.changes[0]!.cut).toBe('Wheel, first sale: €15.92 → €11.94 for Mara');
    expect(faultsOf(() => saveDraft(app, t.owner, view.version))[0]).toMatch(
      /^\/from A change cuts what somebody earns, and the programme promises 2 weeks of notice/,
    );
    view = dateDraft(app, t.owner, '2027-01-18T09:00', view.version);
    expect(view.ready).toBe(true);
    saveDraft(app, t.owner, view.version);
    expect(cell('Everyone', 'Wheel', { day: '2027-01-19' }).text).toBe('6 %');
  });
  it('a personal rate that pays less than the group is a cut too, and so is ending a better one', () => {
    const mara = addAffiliate(app, 'Mara');
    expect(
      draftRate(app, t.owner, rateFor({ of: 'affiliate', id: mara.id }, { of: 'everything' }, '10'))
        .changes[0]!.cut,
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
    const view = show(app, openDraft(app, t.owner)!);
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
});

describe('a rehearsal', () => {
  const span = { from: '2026-12-01', to: '2027-01-04' };
  const settled = async (id: string) => {
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
    const edit = (id: string, reward: string) => {
      const { code, name, description, currency, price, refundDays, salesPage, version } = readProduct(
        app,
        id,
      );
      return editProduct(app, t.owner, id, {
        code,
        name,
        description,
        currency,
        price,
        refundDays,
        salesPage,
        rewardKind: 'percent',
        reward,
        version,
      });
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

describe('asking the book', () => {
  it('reckons a renewal at the price of that payment, not at the first', () => {
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
  it('a change of a locked product says that it is ignored, an uplift of everything too, and one of another product does not', () => {
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
  it('says who, what and why for any moment, value and payment', () => {
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
});

describe('what people read of the terms', () => {
  const reads = () => inForceNow(app, '', { id: wheel, kind: 'one-off' });
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
  it('names the uplift that raises a rate, until when, and what is paid otherwise', () => {
    expect(reads()).toEqual({ text: '8 %', rung: 'product', locked: false, raised: false });
    raise();
    expect(reads()).toMatchObject({ text: '15 % until 12 Jan 2027, otherwise 8 %', raised: true });
  });
  it('names none on a locked product', () => {
    draftSwitch(app, t.owner, { op: 'lock', id: wheel, event: 'sale', on: true });
    saveDraft(app, t.owner, openDraft(app, t.owner)!.version);
    raise();
    expect(reads()).toMatchObject({ text: '8 %', locked: true, raised: false });
  });
});
