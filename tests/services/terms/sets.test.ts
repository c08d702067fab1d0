import { expect, it } from 'vitest';
import { ask } from '../../../src/server/setup/terms/ask';
import { saveDraft } from '../../../src/server/setup/terms/draft-save';
import { openDraft } from '../../../src/server/setup/terms/draft-store';
import { dateDraft, draftRate, draftSwitch } from '../../../src/server/setup/terms/drafts';
import { listMembers } from '../../../src/server/setup/terms/member-list';
import { addMembers, dropMembers, previewMembers } from '../../../src/server/setup/terms/members';
import { previewPlaces, readPlaces, setPlaces } from '../../../src/server/setup/terms/places';
import { previewRemoval, removeSet } from '../../../src/server/setup/terms/set-removal';
import { restoreSet } from '../../../src/server/setup/terms/set-restore';
import { createSet, editSet, listSets, makeStandard, pauseSet } from '../../../src/server/setup/terms/sets';
import { theTerms } from '../../../src/server/setup/terms/store';
import { orderTags } from '../../../src/server/setup/terms/tag-order';
import { addAffiliate } from '../../helpers/app';
import { app, cell, faultsOf, prepare, rateFor, t, wheel } from './world';

prepare();

it('there is one card from the start, and it cannot be removed', () => {
  const [card] = listSets(app).rows;
  expect([card!.of, card!.name, card!.standard]).toEqual(['card', 'Standard', true]);
  expect(faultsOf(() => removeSet(app, t.owner, card!.id, { to: null, version: card!.version }))[0]).toMatch(
    /make another the one first/,
  );
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
  const from = app.clock.during(() => {
    const notice = app.clock.now() + 14 * 86_400_000;
    expect(setPlaces(app, t.owner, mara.id, { group: group.id }).later).toEqual({
      count: 1,
      from: notice,
      cut: 'Course, first sale: €26.70 → €13.35 for Mara',
    });
    return notice;
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
  expect(faultsOf(() => removeSet(app, t.owner, group.id, { to: null, version: group.version }))[0]).toMatch(
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
