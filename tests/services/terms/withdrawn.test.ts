import { expect, it } from 'vitest';
import { startOfDay } from '../../../src/core/calendar/zone';
import type { Id } from '../../../src/core/text/id';
import { saveDraft } from '../../../src/server/setup/terms/draft-save';
import { dateDraft, draftRate, draftSwitch } from '../../../src/server/setup/terms/drafts';
import { addMembers } from '../../../src/server/setup/terms/members';
import { previewPlaces, readPlaces, setPlaces, waitingOf } from '../../../src/server/setup/terms/places';
import { createSet } from '../../../src/server/setup/terms/sets';
import { readTimeline, undoTimeline } from '../../../src/server/setup/terms/timeline';
import { addAffiliate } from '../../helpers/app';
import { app, cell, faultsOf, prepare, rateFor, t, wheel } from './world';

prepare();

const day = 86_400_000;
const save = (at: string, version: number) =>
  saveDraft(app, t.owner, dateDraft(app, t.owner, at, version).version);
const everyone = { of: 'everyone' } as const;
const row = () => ({ of: 'product' as const, id: wheel });
const running = () => readTimeline(app, { state: 'running' }).rows;
const ending = () => running().filter((r) => r.undoes === 'end');

/** The running rate of a reward. */
const rateOf = (what: string) => running().find((r) => r.what === what)!.id as Id<'rate'>;

/** Ends the wheel's rate on 1 February. */
function endWheel(): void {
  const id = rateOf('8 %');
  save('2027-02-01T09:00', draftSwitch(app, t.owner, { op: 'end', id, on: false }).version);
}

it('a scheduled end of a running rate can be withdrawn: the rate runs on', () => {
  endWheel();
  expect(cell('Everyone', 'Wheel', { day: '2027-02-02' }).text).not.toBe('8 %');
  expect(ending().map((r) => [r.kind, r.what])).toEqual([['rate', '8 %']]);
  undoTimeline(app, t.owner, ending()[0]!.id);
  expect(cell('Everyone', 'Wheel', { day: '2027-02-02' }).text).toBe('8 %');
  expect(ending()).toEqual([]);
  // a second click finds no end
  const [same] = running().filter((r) => r.what === '8 %');
  expect(faultsOf(() => undoTimeline(app, t.owner, same!.id))[0]).toMatch(/has begun/);
});

it('it runs on until a rate that was scheduled for its place since begins', () => {
  endWheel();
  const next = rateFor(everyone, row(), '12', { from: '2027-03-01T09:00' });
  saveDraft(app, t.owner, draftRate(app, t.owner, next).version);
  undoTimeline(app, t.owner, ending()[0]!.id);
  expect(cell('Everyone', 'Wheel', { day: '2027-02-15' }).text).toBe('8 %');
  expect(cell('Everyone', 'Wheel', { day: '2027-03-02' }).text).toBe('12 %');
  // undoing that one lets it run on as well
  const coming = readTimeline(app, { state: 'coming' }).rows.find((r) => r.what === '12 %');
  undoTimeline(app, t.owner, coming!.id);
  expect(cell('Everyone', 'Wheel', { day: '2027-03-02' }).text).toBe('8 %');
});

it('an end that came with the rate, or that was withdrawn already, is none to withdraw', () => {
  const until = new Date(startOfDay('2027-06-01', 'Europe/Lisbon')).toISOString().slice(0, 16);
  const view = draftRate(app, t.owner, { ...rateFor(everyone, row(), '9'), until });
  save('2027-01-05T09:00', view.version);
  t.setTime(Date.parse('2027-01-10T09:00:00Z'));
  expect(ending()).toEqual([]);
  const own = running().find((r) => r.what.startsWith('9 %'))!;
  expect(faultsOf(() => undoTimeline(app, t.owner, own.id))[0]).toMatch(/came with the rate/);
});

it('withdrawing an end is held to the notice: who would earn more without the rate keeps that', () => {
  addAffiliate(app, 'Mara');
  const circle = createSet(app, t.owner, { of: 'group', name: 'Circle', about: '' });
  addMembers(app, t.owner, circle.id, { text: 'mara', others: 'move' });
  const low = draftRate(app, t.owner, rateFor({ of: 'group', id: circle.id }, row(), '3'));
  save('2027-01-20T09:00', low.version);
  t.setTime(Date.parse('2027-01-21T09:00:00Z'));
  const id = rateOf('3 %');
  save('2027-01-25T09:00', draftSwitch(app, t.owner, { op: 'end', id, on: false }).version);
  expect(faultsOf(() => undoTimeline(app, t.owner, ending()[0]!.id))[0]).toMatch(
    /Wheel, first sale: €15.92 → €5.97 for Mara/,
  );
});

it('the scheduled end of a lock and of a pause can be withdrawn too', () => {
  const circle = createSet(app, t.owner, { of: 'group', name: 'Circle', about: '' });
  const now = '2027-01-05T09:00';
  draftSwitch(app, t.owner, { op: 'pause', id: circle.id, on: true });
  save(now, draftSwitch(app, t.owner, { op: 'lock', id: wheel, event: 'sale', on: true }).version);
  t.setTime(Date.parse('2027-01-10T09:00:00Z'));
  draftSwitch(app, t.owner, { op: 'pause', id: circle.id, on: false });
  save(
    '2027-02-01T09:00',
    draftSwitch(app, t.owner, { op: 'lock', id: wheel, event: 'sale', on: false }).version,
  );
  expect(
    ending()
      .map((r) => r.kind)
      .sort(),
  ).toEqual(['lock', 'pause']);
  for (const { id } of ending()) undoTimeline(app, t.owner, id);
  expect(ending()).toEqual([]);
  expect(
    running()
      .filter((r) => ['lock', 'pause'].includes(r.kind))
      .map((r) => r.until),
  ).toEqual([null, null]);
});

/** Mara in a group that pays 20 %, on the way to one that pays 4 %. */
function onTheWay() {
  const mara = addAffiliate(app, 'Mara');
  const [high, low] = ['High', 'Low'].map((name) =>
    createSet(app, t.owner, { of: 'group', name, about: '' }),
  );
  draftRate(app, t.owner, rateFor({ of: 'group', id: high!.id }, row(), '20'));
  save(
    '2027-01-20T09:00',
    draftRate(app, t.owner, rateFor({ of: 'group', id: low!.id }, row(), '4')).version,
  );
  t.setTime(Date.parse('2027-01-21T09:00:00Z'));
  setPlaces(app, t.owner, mara.id, { group: high!.id });
  const later = setPlaces(app, t.owner, mara.id, { group: low!.id }).later!;
  return { mara: mara.id, high: high!.id, low: low!.id, at: later.from };
}

it('choosing the present group again withdraws the move that waits, and says so', () => {
  const { mara, high, low, at } = onTheWay();
  expect(waitingOf(app, mara)).toMatchObject([{ of: 'group', to: low, from: at }]);
  expect(previewPlaces(app, mara, { group: high }).withdraws).toMatchObject([{ to: low, from: at }]);
  const done = setPlaces(app, t.owner, mara, { group: high });
  expect(done.withdraws[0]!.says).toMatch(/^moves to Low on \d+ Feb 2027$/);
  expect(waitingOf(app, mara)).toEqual([]);
  t.setTime(at + day);
  expect(readPlaces(app, mara).group).toBe(high);
});

it('choosing other places leaves the move alone, and leaving that waits is withdrawn as well', () => {
  const { mara, high, low, at } = onTheWay();
  const tag = createSet(app, t.owner, { of: 'tag', name: 'Fair', about: '' }).id;
  expect(setPlaces(app, t.owner, mara, { tags: [tag] }).withdraws).toEqual([]);
  expect(waitingOf(app, mara)).toHaveLength(1);
  setPlaces(app, t.owner, mara, { group: high });
  const leaving = setPlaces(app, t.owner, mara, { group: null }).later!;
  expect(setPlaces(app, t.owner, mara, { group: high }).withdraws).toMatchObject([
    { of: 'group', to: null, from: leaving.from },
  ]);
  t.setTime(Math.max(at, leaving.from) + day);
  expect([readPlaces(app, mara).group, low === high]).toEqual([high, false]);
});

it('adding who is in the group already withdraws a move away from it', () => {
  const { mara, high, at } = onTheWay();
  expect(addMembers(app, t.owner, high, { text: 'mara', others: 'move' })).toMatchObject({
    already: 1,
    withdrawn: 1,
  });
  t.setTime(at + day);
  expect(readPlaces(app, mara).group).toBe(high);
});
