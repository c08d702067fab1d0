import { expect, it } from 'vitest';
import { Client as Visitor } from '../../../scripts/journey/client';
import { matchPractices } from '../../../src/server/recruit/practices/meant';
import { answered, bob, draft, mara, owner, prepare, publish, s, type Fault, type Publishing } from './world';

prepare();

interface Practice {
  key: string;
  name: string;
  answer: string | null;
  says: string;
  ticked: boolean;
  said: boolean;
  permission: { id: string; allowed: boolean; words: string; by: string } | null;
}
interface Row {
  id: string;
  affiliate: string;
  name: string;
  remarks: string[];
}

const raffle = {
  key: 'prc_raffle',
  name: 'Prizes and raffles',
  words: ['give away'],
  answer: 'ask-first',
  says: 'Tell us when.',
  exceptions: [],
};

let count = 0;
const form = (more: object) => {
  count += 1;
  return {
    name: `Applicant ${count}`,
    email: `a${count}@applicants.example`,
    country: 'PT',
    address: '',
    sites: [`a${count}.example`],
    channels: 'blog',
    note: 'I write about clay.',
    product: '',
    policy: true,
    ...more,
  };
};
const apply = async (more: object) => {
  const body = form(more);
  const sent = await new Visitor(s.address).post<Fault & { outcome: string }>('/api/v1/join', body);
  const row = (await owner.get<{ rows: Row[] }>(`/api/v1/applications?q=${encodeURIComponent(body.email)}`))
    .body.rows[0]!;
  return { sent, row };
};
const practicesOf = async (id: string) =>
  (await owner.get<{ practices: Practice[]; practicesAsked: boolean }>(`/api/v1/applications/${id}`)).body;
const ofAffiliate = async (id: string) =>
  (await owner.get<{ practices: Practice[] }>(`/api/v1/affiliates/${id}`)).body.practices;
const answer = (affiliate: string, body: object) =>
  owner.post<Practice['permission'] & Fault>(`/api/v1/affiliates/${affiliate}/permissions`, {
    words: '',
    replaces: null,
    ...body,
  });
const subjects = () =>
  s.app.sqlite
    .prepare("SELECT subject FROM messages WHERE kind = 'practice' ORDER BY rowid")
    .pluck()
    .all() as string[];

it('who applies: is asked by the table that is answered, and by nothing before there is one', async () => {
  await publish({
    practices: [
      ...answered((await draft()).content, {
        'cash-return': 'ask-first',
        resale: 'not-here',
        'own-readers': 'welcome',
        children: {
          answer: 'not-here',
          exceptions: [{ who: 'classes', answer: 'welcome', says: 'You teach.' }],
        },
      }),
      raffle,
    ],
    general: 'Mark links. \u0634\u0631\u0648\u0637',
  });
  const page = (
    await new Visitor(s.address).get<{
      practices: { key: string; answer: string; exceptions: unknown[] }[];
    }>('/api/v1/join')
  ).body;
  expect(page.practices.map((p) => [p.key, p.answer])).toEqual([
    ['cash-return', 'ask-first'],
    ['own-readers', 'welcome'],
    ['children', 'not-here'],
    ['resale', 'not-here'],
    ['prc_raffle', 'ask-first'],
  ]);
});
it('who applies: cannot tick what is not in it', async () => {
  expect((await apply({ practices: ['social-ads'] })).sent.body.errors.map((e) => e.pointer)).toEqual([
    '/practices',
  ]);
  expect((await apply({ practices: ['resale', 'resale'] })).sent.status).toBe(422);
});
it('who applies: is judged by ticks and words; what it denies and yet names is said', async () => {
  const { row } = await apply({
    practices: ['resale', 'own-readers'],
    note: 'I give away mugs, for children too. Never any cash return.',
  });
  const { practices, practicesAsked } = await practicesOf(row.id);
  expect(practicesAsked).toBe(true);
  expect(practices.map((p) => [p.key, p.answer, p.ticked, p.said])).toEqual([
    ['own-readers', 'welcome', true, false],
    ['children', 'not-here', false, true],
    ['resale', 'not-here', true, false],
    ['prc_raffle', 'ask-first', false, true],
  ]);
  expect(row.remarks).toEqual([
    'not here: “Children as an audience”, “Offering our goods on resale sites”',
    'asks about “Prizes and raffles”',
    'its words speak of “Children as an audience”, “Prizes and raffles”, which is not ticked',
  ]);
});
it('who applies: is answered for its kind, the strictest of several', async () => {
  const { row } = await apply({ practices: ['children'], channels: 'classes' });
  expect((await practicesOf(row.id)).practices[0]).toMatchObject({ answer: 'welcome', says: 'You teach.' });
  expect(row.remarks).toEqual([]);
});
it('who applies: without ticks, as forms of others send it, is judged by its words alone', async () => {
  const { row } = await apply({ note: 'With cashback for members' });
  const { practices, practicesAsked } = await practicesOf(row.id);
  expect([practicesAsked, practices.map((p) => p.key)]).toEqual([false, ['cash-return']]);
  expect(row.remarks).toEqual(['asks about “Cash return to buyers”']);
});

it('an answer to who asked: is kept at the affiliate, answers the queue, and comes with the decision', async () => {
  const { row } = await apply({ practices: ['cash-return'], note: 'For members.' });
  const given = await answer(row.affiliate, {
    practice: 'cash-return',
    allowed: true,
    words: 'For the members’ page.',
    application: row.id,
  });
  expect(given.body).toMatchObject({
    practice: 'cash-return',
    allowed: true,
    words: 'For the members’ page.',
  });
  const rows = (await owner.get<{ rows: Row[] }>(`/api/v1/applications?q=${row.name.replace(' ', '%20')}`))
    .body.rows;
  expect(rows.find((r) => r.id === row.id)!.remarks).toEqual([]);
  expect(subjects()).toEqual([]);
  await owner.post('/api/v1/applications/decide', {
    ids: [row.id],
    decision: 'approve',
    timing: 'after-hold',
    reason: '',
    message: true,
  });
  expect(
    s.app.sqlite
      .prepare("SELECT body FROM messages WHERE kind = 'application-approved' AND subject_of = ?")
      .pluck()
      .get(row.id),
  ).toContain('Cash return to buyers: you may. For the members’ page.');
  expect((await ofAffiliate(row.affiliate))[0]).toMatchObject({
    ticked: true,
    permission: { allowed: true },
  });
});
it('an answer to who asked: is told to who is with us; another takes its place; taken back, the first stands again', async () => {
  const before = subjects().length;
  const yes = (await answer(bob.id, { practice: 'resale', allowed: true })).body!;
  expect((await answer(bob.id, { practice: 'resale', allowed: false })).body.code).toBe('stale');
  const no = (
    await answer(bob.id, { practice: 'resale', allowed: false, words: 'Not any more.', replaces: yes.id })
  ).body!;
  expect(subjects().slice(before)).toEqual([
    'Offering our goods on resale sites: yes',
    'Offering our goods on resale sites: no',
  ]);
  const back = await owner.post<{ restored: { id: string } | null }>(`/api/v1/permissions/${no.id}/end`);
  expect(back.body.restored).toMatchObject({ id: yes.id, allowed: true });
  expect((await ofAffiliate(bob.id)).map((p) => [p.key, p.permission!.allowed])).toEqual([['resale', true]]);
  expect((await owner.post<Fault>(`/api/v1/permissions/${no.id}/end`)).body.code).toBe('conflict');
  expect(subjects().at(-1)).toBe('Offering our goods on resale sites: our answer is taken back');
  expect(
    s.app.sqlite
      .prepare("SELECT body FROM messages WHERE kind = 'practice' ORDER BY rowid DESC")
      .pluck()
      .get(),
  ).toContain('What we said before holds again:\n\nOffering our goods on resale sites: you may.');
});
it('an answer to who asked: is refused for a practice that nobody knows, somebody who is not there, and roles that only read', async () => {
  expect((await answer(bob.id, { practice: 'prc_nobody', allowed: true })).body.errors[0]!.pointer).toBe(
    '/practice',
  );
  expect((await answer('aff_nothere00', { practice: 'resale', allowed: true })).status).toBe(404);
  const { row } = await apply({ practices: ['own-readers'], note: 'Somebody else’s.' });
  const foreign = await answer(bob.id, { practice: 'children', allowed: true, application: row.id });
  expect(foreign.body.errors.map((e) => e.pointer)).toEqual(['/application']);
  const viewer = await s.as('viewer');
  expect((await viewer.post(`/api/v1/affiliates/${bob.id}/permissions`, {})).status).toBe(403);
});
it('an answer to who asked: by two at once is given once: the later reads what the other said', async () => {
  const [a, b] = await Promise.all([
    answer(mara.id, { practice: 'cash-return', allowed: true }),
    answer(mara.id, { practice: 'cash-return', allowed: false }),
  ]);
  const stale = [a, b].filter((r) => r.body.code === 'stale');
  expect(stale).toHaveLength(1);
  expect(stale[0]!.body.detail).toContain('answered Loam Letters about this meanwhile');
});

const names = async (query: string) =>
  (await owner.get<{ rows: { name: string }[] }>(`/api/v1/affiliates?${query}`)).body.rows.map((r) => r.name);
it('the roster: finds those who applied with a practice, and those who were let in for it', async () => {
  expect(await names('practice=resale')).toEqual(['Applicant 3', 'Bob Bisque']);
  expect(await names('practice=resale&state=active')).toEqual(['Bob Bisque']);
  expect(await names('practice=comparison')).toEqual([]);
  expect((await owner.get('/api/v1/affiliates?practice=telepathy')).status).toBe(422);
});

const rule = (conditions: object) =>
  owner.post<Fault & { rules: { id: string; sentence: string; version: number }[] }>('/api/v1/screening', {
    conditions,
    outcome: { do: 'decline', reason: 'Not with that.' },
  });
it('screening rules: ask whether all is welcome, and for practices by name', async () => {
  const made = await rule({ welcome: false, uses: ['resale', 'prc_raffle'] });
  expect(made.body.rules.at(-1)!.sentence).toBe(
    'Where the applicant means to use something that is asked first or not here, and the applicant means to use “Offering our goods on resale sites” or “Prizes and raffles”: decline: Not with that.',
  );
  expect((await rule({ uses: ['social-ads'] })).body.errors[0]!.pointer).toBe('/uses');
});
it('screening rules: decide by them, and keep what they saw', async () => {
  const product = await s.product('SCREENED', { recruiting: 'screened' });
  const r = (
    await owner.get<{ rules: { id: string; conditions: object; outcome: object; version: number }[] }>(
      '/api/v1/screening',
    )
  ).body.rules.at(-1)!;
  const { id, conditions, outcome, version } = r;
  await owner.put(`/api/v1/screening/${id}`, { conditions, outcome, version, on: true });
  expect(product).toBeTruthy();
  const { row } = await apply({ practices: ['resale'], product: 'SCREENED' });
  const other = await apply({ practices: ['own-readers'], product: 'SCREENED' });
  const state = async (application: string) =>
    (
      await owner.get<{ state: string; rule: { facts: { label: string; value: string }[] } | null }>(
        `/api/v1/applications/${application}`,
      )
    ).body;
  expect(row).toBeUndefined();
  const declined = s.app.sqlite
    .prepare("SELECT id FROM applications WHERE state = 'declined' ORDER BY rowid DESC")
    .pluck()
    .get() as string;
  expect((await state(declined)).rule!.facts).toContainEqual({
    label: 'Practices',
    value: 'at the strictest: not here',
  });
  expect((await state(other.row.id)).state).toBe('waiting');
});

it('a next version: says before it is published whom its changes are about', async () => {
  const d = await draft();
  const practices = answered(d.content, { resale: 'ask-first' }).filter(
    (p) => (p as { key: string }).key !== 'prc_raffle',
  );
  await owner.put(`/api/v1/policies/${d.id}`, { ...d.content, practices, version: d.version });
  const view = (await owner.get<Publishing>(`/api/v1/policies/${d.id}/publishing`)).body;
  expect(view.practices).toMatchObject([
    {
      key: 'resale',
      was: 'not-here',
      is: 'ask-first',
      users: 0,
      permitted: 1,
      waiting: 1,
      sample: [{ name: 'Bob Bisque' }],
    },
    { key: 'prc_raffle', was: 'ask-first', is: null, users: 0, permitted: 0, waiting: 1 },
  ]);
  expect(view.told).toBe(3);
});
it('a next version: that drops a practice leaves standing what was answered about it', async () => {
  await answer(bob.id, { practice: 'prc_raffle', allowed: true });
  const d = await draft();
  await publish({
    practices: (d.content.practices as { key: string }[]).filter((p) => p.key !== 'resale'),
  });
  expect((await ofAffiliate(bob.id)).map((p) => [p.key, p.answer, p.name, p.permission!.allowed])).toEqual([
    ['prc_raffle', null, 'Prizes and raffles', true],
    ['resale', null, 'Offering our goods on resale sites', true],
  ]);
  // answered anew, though it is gone from the table: it stood before
  const standing = (await ofAffiliate(bob.id)).find((p) => p.key === 'prc_raffle')!.permission!;
  expect(
    (await answer(bob.id, { practice: 'prc_raffle', allowed: false, replaces: standing.id })).status,
  ).toBe(200);
});
it('a next version: looks for its own words in what was written before', async () => {
  const { row } = await apply({ note: 'I repair kilns and swap glazes.' });
  expect((await practicesOf(row.id)).practices).toEqual([]);
  await publish({
    practices: [
      ...((await draft()).content.practices as object[]),
      { ...raffle, key: 'prc_swap', name: 'Swapping', words: ['swap'] },
    ],
  });
  while (matchPractices(s.app) > 0);
  expect((await practicesOf(row.id)).practices.map((p) => p.key)).toEqual(['prc_swap']);
  expect(matchPractices(s.app)).toBe(0);
});
