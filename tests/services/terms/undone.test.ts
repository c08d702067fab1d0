import { beforeEach, expect, it } from 'vitest';
import type { SetChange } from '../../../src/contract/setup/rate-book';
import type { Id } from '../../../src/core/text/id';
import type { App } from '../../../src/server/ground/context';
import { createProduct, moveProduct } from '../../../src/server/setup/products/service';
import { saveDraft } from '../../../src/server/setup/terms/draft-save';
import { openDraft } from '../../../src/server/setup/terms/draft-store';
import { dateDraft, draftRate, draftSwitch, dropChange } from '../../../src/server/setup/terms/drafts';
import { addMembers } from '../../../src/server/setup/terms/members';
import { readPlaces, setPlaces } from '../../../src/server/setup/terms/places';
import { removeSet } from '../../../src/server/setup/terms/set-removal';
import { createSet, pauseSet } from '../../../src/server/setup/terms/sets';
import { readTimeline, undoTimeline } from '../../../src/server/setup/terms/timeline';
import { addAffiliate, testApp, type TestApp } from '../../helpers/app';

let t: TestApp;
let app: App;
let wheel: Id<'product'>;
let mara: Id<'affiliate'>;
const day = 86_400_000;

beforeEach(() => {
  t = testApp();
  app = t.app;
  const made = createProduct(app, t.owner, {
    code: 'WHEEL-1',
    name: 'Wheel',
    description: 'x',
    currency: 'EUR',
    price: '100.00',
    refundDays: 14,
    salesPage: 'https://shop.quernstone.example/p',
    rewardKind: 'percent',
    reward: '10',
  });
  moveProduct(app, t.owner, made.id, { to: 'live', version: made.version });
  wheel = made.id;
  mara = addAffiliate(app, 'Mara').id;
});

const rate = (value: string, more: Partial<SetChange> = {}): SetChange => ({
  column: { of: 'everyone' },
  row: { of: 'product', id: wheel },
  event: 'sale',
  mode: 'base',
  reward: { kind: 'percent', value },
  ...more,
});
const wall = (at: number) => new Date(at).toISOString().slice(0, 16);
/** Saves the open draft with a start in so many days. */
function saveIn(days: number): void {
  const { version } = dateDraft(
    app,
    t.owner,
    wall(app.clock.now() + days * day),
    openDraft(app, t.owner)!.version,
  );
  saveDraft(app, t.owner, version);
}
const coming = () => readTimeline(app, { state: 'coming' }).rows;
const group = (name: string) => createSet(app, t.owner, { of: 'group', name, about: '' }).id;
const audited = () => app.sqlite.prepare('SELECT action FROM audit ORDER BY rowid DESC').pluck().get();

it('a lock that is still to come is taken back, and never holds', () => {
  draftSwitch(app, t.owner, { op: 'lock', id: wheel, event: 'sale', on: true });
  saveIn(30);
  const [lock] = coming();
  expect(lock).toMatchObject({ kind: 'lock', state: 'coming' });
  expect(undoTimeline(app, t.owner, lock!.id)).toEqual({ undone: true });
  expect([coming(), audited()]).toEqual([[], 'lock-undone']);
  t.setTime(app.clock.now() + 40 * day);
  expect(readTimeline(app, { state: 'running' }).rows.filter((r) => r.kind === 'lock')).toEqual([]);
});

it('a pause that is still to come as well; one that has begun is not: it stays explained', () => {
  const circle = group('Circle');
  draftSwitch(app, t.owner, { op: 'pause', id: circle, on: true });
  saveIn(30);
  const [pause] = coming();
  expect(pause).toMatchObject({ kind: 'pause' });
  undoTimeline(app, t.owner, pause!.id);
  expect([coming(), audited()]).toEqual([[], 'pause-undone']);

  pauseSet(app, t.owner, circle, true);
  const running = readTimeline(app, { state: 'running' }).rows.find((r) => r.kind === 'pause')!;
  t.setTime(app.clock.now() + day);
  expect(() => undoTimeline(app, t.owner, running.id)).toThrow(/This has begun/);
});

it('a rate that is taken back gives what it would have ended its time again; twice is refused, and what never was', () => {
  draftRate(app, t.owner, rate('20'));
  saveIn(30);
  const [later] = coming();
  const first = () =>
    app.sqlite
      .prepare('SELECT valid_until FROM rates WHERE id <> ? AND product = ?')
      .pluck()
      .get(later!.id, wheel);
  expect(first()).toBe(later!.from);
  undoTimeline(app, t.owner, later!.id);
  expect([first(), audited()]).toEqual([null, 'rate-undone']);
  expect(() => undoTimeline(app, t.owner, later!.id)).toThrow(/undone already/);
  expect(() => undoTimeline(app, t.owner, 'rat_none')).toThrow(/does not exist/);
});

it('a draft says what it cannot be told', () => {
  expect(() => draftSwitch(app, t.owner, { op: 'end', id: 'rat_none' })).toThrow(
    'This rate does not exist any more',
  );
  expect(() => draftSwitch(app, t.owner, { op: 'lock', id: 'prd_none', event: 'sale', on: true })).toThrow(
    'This product does not exist',
  );
  const tag = createSet(app, t.owner, { of: 'tag', name: 'podcast', about: '' }).id;
  expect(() => draftSwitch(app, t.owner, { op: 'pause', id: tag, on: true })).toThrow(
    'Only groups can be paused',
  );
  expect(() => dateDraft(app, t.owner, wall(app.clock.now() + day), 1)).toThrow('You have no open draft');
  draftRate(app, t.owner, rate('12'));
  expect(() => dateDraft(app, t.owner, wall(app.clock.now() + day), 99)).toThrow(/another window/);
  expect(openDraft(app, t.owner)!.changes).toHaveLength(1);
});

it('a change that is taken out of a draft leaves the others; with the last one the draft goes', () => {
  draftRate(app, t.owner, rate('12'));
  const { changes } = draftRate(app, t.owner, rate('15', { column: { of: 'affiliate', id: mara } }));
  expect(changes).toHaveLength(2);
  expect(dropChange(app, t.owner, changes[0]!.id)?.changes.map((c) => c.id)).toEqual([changes[1]!.id]);
  dropChange(app, t.owner, changes[1]!.id);
  expect(openDraft(app, t.owner)?.changes ?? []).toEqual([]);
});

it.each<[string, Partial<SetChange>, RegExp]>([
  ['a reward that is no figure', { reward: { kind: 'percent', value: 'a lot' } }, /Reward: /],
  ['an affiliate that there is not', { column: { of: 'affiliate', id: 'aff_none' } }, /does not exist/],
  ['a product that there is not', { row: { of: 'product', id: 'prd_none' } }, /does not exist/],
  ['a cap that is no amount', { cap: 'high' }, /Cap: /],
])('a rate with %s is refused, and the draft stays as it was', (_, more, said) => {
  expect(() => draftRate(app, t.owner, rate('12', more))).toThrow(said);
  expect(openDraft(app, t.owner)).toBeFalsy();
});

it('places of an affiliate: what was removed meanwhile is said at its field', () => {
  const [card, tag] = (['card', 'tag'] as const).map(
    (kind) => createSet(app, t.owner, { of: kind, name: `Some ${kind}`, about: '' }).id,
  );
  const circle = group('Circle');
  setPlaces(app, t.owner, mara, { card: card!, group: circle, tags: [tag!] });
  expect(readPlaces(app, mara)).toEqual({ card, group: circle, tags: [tag] });
  // out of the group and from under the tag again: those left out stay as they are
  setPlaces(app, t.owner, mara, { group: null, tags: [] });
  expect(readPlaces(app, mara)).toEqual({ card, group: null, tags: [] });

  const version = app.sqlite.prepare('SELECT version FROM sets WHERE id = ?').pluck();
  removeSet(app, t.owner, circle, { to: null, version: version.get(circle) as number });
  removeSet(app, t.owner, tag!, { to: null, version: version.get(tag) as number });
  expect(() => setPlaces(app, t.owner, mara, { group: circle })).toThrow(/this group does not exist/);
  expect(() => setPlaces(app, t.owner, mara, { tags: [tag!] })).toThrow(/one of them does not exist/);
  expect(() => setPlaces(app, t.owner, mara, { card: 'set_none' })).toThrow(/rate card does not exist/);
  expect(() => addMembers(app, t.owner, circle, { text: 'mara', others: 'move' })).toThrow(/was removed/);
  expect(readPlaces(app, mara)).toEqual({ card, group: null, tags: [] });
});
