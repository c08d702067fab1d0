import { describe, expect, it } from 'vitest';
import type { Id } from '../../../src/core/text/id';
import { memberships, rates, sets } from '../../../src/server/ground/tables/terms';
import { saveDraft } from '../../../src/server/setup/terms/draft-save';
import { openDraft } from '../../../src/server/setup/terms/draft-store';
import { draftRate, draftSwitch } from '../../../src/server/setup/terms/drafts';
import { addMembers, dropMembers } from '../../../src/server/setup/terms/members';
import { readPlaces, setPlaces } from '../../../src/server/setup/terms/places';
import { removeSet } from '../../../src/server/setup/terms/set-removal';
import { restoreSet } from '../../../src/server/setup/terms/set-restore';
import { createSet, listSets, setById } from '../../../src/server/setup/terms/sets';
import { theTerms } from '../../../src/server/setup/terms/store';
import { addAffiliate } from '../../helpers/app';
import { app, cell, faultsOf, prepare, rateFor, t } from './world';

prepare();

const minutes = (n: number) => t.setTime(app.clock.now() + n * 60_000);
const made = (kind: 'card' | 'group' | 'tag', name: string) =>
  createSet(app, t.owner, { of: kind, name, about: '' }).id;
const remove = (id: Id<'set'>, to: Id<'set'> | null = null) =>
  removeSet(app, t.owner, id, { to, version: setById(app, id).version });
const restore = (id: Id<'set'>) => restoreSet(app, t.owner, id);
/** Who is where, from and until when, whatever the rows are called. */
const places = () =>
  theTerms(app)
    .data.members.map((m) => `${m.affiliate} ${m.of} ${m.id} ${m.from} ${m.until}`)
    .sort();
const ratesNow = () => theTerms(app).data.rates.map((r) => `${r.id} ${r.from} ${r.until}`);
/** A rate of a set that pays more than everybody earns, so that nobody is cut by gaining it. */
const pays = (kind: 'card' | 'group' | 'tag', id: Id<'set'>, percent: string) => {
  draftRate(app, t.owner, rateFor({ of: kind, id }, { of: 'everything' }, percent));
  saveDraft(app, t.owner, openDraft(app, t.owner)!.version);
};
const cardOf = (affiliate: Id<'affiliate'>) => readPlaces(app, affiliate).card;
/** For the notice not to stand in the way: what is looked at here is what comes back, not who is told. */
const withoutNotice = () => app.sqlite.exec('UPDATE programme SET notice_weeks = 0');

describe('a rate card that was removed', () => {
  it('comes back with its members, those who moved with it, and its rates', () => {
    withoutNotice();
    const [mara, iris] = ['Mara', 'Iris'].map((n) => addAffiliate(app, n).id);
    const makers = made('card', 'Makers');
    const standard = cardOf(mara!);
    addMembers(app, t.owner, makers, { text: 'mara', others: 'move' });
    pays('card', makers, '40');
    minutes(1);
    const before = [places(), ratesNow()];
    expect(remove(makers, standard)).toEqual({ moved: 1, ended: 1 });
    expect(cardOf(mara!)).toBe(standard);
    minutes(1);
    restore(makers);
    expect([places(), ratesNow()]).toEqual(before);
    expect([cardOf(mara!), cardOf(iris!)]).toEqual([makers, standard]);
    expect(cell('Makers', 'Wheel').text).toBe('40 %');
  });
  it('leaves where they are those who were put on another card meanwhile', () => {
    withoutNotice();
    const [mara, iris] = ['Mara', 'Iris'].map((n) => addAffiliate(app, n).id);
    const [makers, schools] = [made('card', 'Makers'), made('card', 'Schools')];
    addMembers(app, t.owner, makers, { text: 'mara, iris', others: 'move' });
    minutes(1);
    remove(makers, listSets(app).rows.find((r) => r.standard)!.id);
    minutes(1);
    setPlaces(app, t.owner, iris!, { card: schools });
    minutes(1);
    restore(makers);
    expect([cardOf(mara!), cardOf(iris!)]).toEqual([makers, schools]);
  });
  it('needs another card for its members: its own, a group and one that was removed are none', () => {
    const mara = addAffiliate(app, 'Mara').id;
    const [makers, gone, group] = [made('card', 'Makers'), made('card', 'Gone'), made('group', 'Circle')];
    addMembers(app, t.owner, makers, { text: 'mara', others: 'move' });
    remove(gone);
    expect(faultsOf(() => remove(makers))).toEqual([
      '/to 1 affiliates are on this card; choose the card they move to',
    ]);
    for (const to of [makers, group, gone])
      expect(faultsOf(() => remove(makers, to))).toEqual(['/to Members of a card move to another rate card']);
    expect(cardOf(mara)).toBe(makers);
  });
});

describe('a group or a tag that was removed', () => {
  it('comes back without those who were put into another group meanwhile', () => {
    const [mara, iris] = ['Mara', 'Iris'].map((n) => addAffiliate(app, n).id);
    const [circle, teachers] = [made('group', 'Circle'), made('group', 'Teachers')];
    addMembers(app, t.owner, circle, { text: 'mara, iris', others: 'move' });
    minutes(1);
    remove(circle);
    minutes(1);
    setPlaces(app, t.owner, mara!, { group: teachers });
    minutes(1);
    restore(circle);
    expect([readPlaces(app, mara!).group, readPlaces(app, iris!).group]).toEqual([teachers, circle]);
  });
  it('a tag comes back to everybody who had it: one can have many', () => {
    const mara = addAffiliate(app, 'Mara').id;
    const [video, fairs] = [made('tag', 'video'), made('tag', 'fairs')];
    addMembers(app, t.owner, video, { text: 'mara', others: 'move' });
    minutes(1);
    remove(video);
    minutes(1);
    setPlaces(app, t.owner, mara, { tags: [fairs] });
    minutes(1);
    restore(video);
    expect([...readPlaces(app, mara).tags].sort()).toEqual([video, fairs].sort());
  });
  it('a rate of it that had ended before does not run again', () => {
    withoutNotice();
    const circle = made('group', 'Circle');
    pays('group', circle, '40');
    minutes(1);
    const rate = cell('Circle', 'Wheel').rate!;
    draftSwitch(app, t.owner, { op: 'end', id: rate });
    saveDraft(app, t.owner, openDraft(app, t.owner)!.version);
    minutes(1);
    const ended = ratesNow();
    remove(circle);
    minutes(1);
    restore(circle);
    expect(ratesNow()).toEqual(ended);
  });
  it('one who left before it was removed stays out', () => {
    const mara = addAffiliate(app, 'Mara').id;
    const circle = made('group', 'Circle');
    addMembers(app, t.owner, circle, { text: 'mara', others: 'move' });
    minutes(1);
    dropMembers(app, t.owner, circle, [mara]);
    minutes(1);
    const before = places();
    remove(circle);
    minutes(1);
    restore(circle);
    expect([readPlaces(app, mara).group, places()]).toEqual([null, before]);
  });
});

describe('taking a removal back', () => {
  it('twice is the same as once, and does not bring back what was changed in between', () => {
    const mara = addAffiliate(app, 'Mara').id;
    const circle = made('group', 'Circle');
    addMembers(app, t.owner, circle, { text: 'mara', others: 'move' });
    minutes(1);
    remove(circle);
    minutes(1);
    const { version } = restore(circle);
    minutes(1);
    dropMembers(app, t.owner, circle, [mara]);
    expect(restore(circle).version).toBe(version);
    expect(readPlaces(app, mara).group).toBeNull();
  });
  it('is refused while another has its name, and after that one was renamed is not', () => {
    const circle = made('group', 'Circle');
    remove(circle);
    const other = made('group', 'circle');
    expect(faultsOf(() => restore(circle))[0]).toMatch(/called circle already/i);
    remove(other);
    expect(restore(circle).name).toBe('Circle');
  });
  it('is refused where those who earn more without it would be cut before the notice is over', () => {
    addAffiliate(app, 'Mara');
    const circle = made('group', 'Circle');
    // while it was there, it paid less than everybody earns
    pays('group', circle, '2');
    addMembers(app, t.owner, circle, { text: 'mara', others: 'move' });
    t.setTime(app.clock.now() + 15 * 86_400_000);
    remove(circle);
    minutes(1);
    expect(faultsOf(() => restore(circle))[0]).toMatch(
      /^\/set Somebody would earn less .*make another, with rates from that day on/,
    );
    expect(setById(app, circle).removedAt).not.toBeNull();
  });
});

describe('a removal of an earlier version', () => {
  it('did not note what stood: what ended at its moment comes back', () => {
    withoutNotice();
    const mara = addAffiliate(app, 'Mara').id;
    const makers = made('card', 'Makers');
    const standard = cardOf(mara);
    addMembers(app, t.owner, makers, { text: 'mara', others: 'move' });
    pays('card', makers, '40');
    minutes(1);
    const before = [places(), ratesNow()];
    remove(makers, standard);
    app.db.update(sets).set({ removal: null }).run();
    minutes(1);
    restore(makers);
    expect([places(), ratesNow()]).toEqual(before);
    expect(
      app.db
        .select()
        .from(rates)
        .all()
        .every((r) => r.until === null),
    ).toBe(true);
    expect(
      app.db
        .select()
        .from(memberships)
        .all()
        .filter((m) => m.set === makers),
    ).toHaveLength(1);
  });
});
