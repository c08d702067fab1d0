import { expect, it } from 'vitest';
import { Client as Visitor } from '../../../scripts/journey/client';
import { touch } from '../../../src/server/ground/cache';
import { outside } from '../../../src/server/jobs/outside';
import { takePartners } from '../../../src/server/recruit/prospects/copy';
import { expireInvites } from '../../../src/server/recruit/prospects/invites';
import { deliverWaiting } from '../../../src/server/registers/outbox/delivery';
import { partnerAt } from '../../../src/standins/partners';
import { find, invite, list, owner, prepare, registry, s, type Fault, type Line } from './world';

prepare(300);

const five = [10, 11, 12, 13, 14].map((i) => partnerAt(i));
const countOf = (which: string) => s.app.sqlite.prepare(`SELECT count(*) FROM ${which}`).pluck().get();
let group = '';
let tag = '';
let early = '';
it('inviting: five with a group and a tag, who arrive with both, and with the tag they had before', async () => {
  const make = async (address: string, name: string) =>
    (await owner.post<{ id: string }>('/api/v1/sets', { of: address, name, about: '' })).body.id;
  [group, tag, early] = [
    await make('group', 'Studio circle'),
    await make('tag', 'spring fair'),
    await make('tag', 'seen at the fair'),
  ];
  await owner.post('/api/v1/prospects/tags', { ids: [five[0]!.id], tag: early, on: true });
  await registry('registry-answers', 'accept');
  expect(
    (
      await invite(
        five.map((p) => p.id),
        { group, tags: [tag] },
      )
    ).body.invited,
  ).toBe(5);
  expect((await find(five[0]!.id))[0]).toMatchObject({
    state: 'invited',
    invite: 'waiting',
    tags: [{ name: 'seen at the fair' }],
  });
  await outside(s.app, true);
  expect((await find(five[0]!.id))[0]).toMatchObject({ invite: 'sent' });
  s.days(20);
  await outside(s.app, true);
  for (const p of five) {
    const [row] = await find(p.id);
    expect(row).toMatchObject({ state: 'joined' });
    const places = (
      await owner.get<{ group: string; tags: string[] }>(`/api/v1/affiliates/${row!.affiliate}/places`)
    ).body;
    expect(places).toMatchObject({
      group,
      tags: p === five[0] ? expect.arrayContaining([tag, early]) : [tag],
    });
    expect(
      (
        await owner.get<{ state: string; timing: string; terms: unknown[] }>(
          `/api/v1/affiliates/${row!.affiliate}`,
        )
      ).body,
    ).toMatchObject({ state: 'active', timing: 'after-hold' });
  }
  await deliverWaiting(s.app);
  expect(countOf("messages WHERE kind = 'invitation-accepted' AND state = 'sent'")).toBe(5);
  // read again, nothing happens twice
  s.app.sqlite.exec('UPDATE registry_sync SET outcomes = 0');
  await outside(s.app, true);
  expect(countOf("applications WHERE note LIKE 'Thank you for writing%'")).toBe(5);
});
it('inviting: the letter says the rate that comes with the tag a partner has already', async () => {
  const rate = { column: { of: 'tag', id: early }, row: { of: 'everything' }, event: 'sale', mode: 'base' };
  const draft = await owner.post<{ version: number }>('/api/v1/draft/rates', {
    ...rate,
    reward: { kind: 'percent', value: '33' },
  });
  await owner.post('/api/v1/draft/save', { version: draft.body.version });
  const ids = [five[0]!.id];
  const letter = await owner.post<{ sample: string }>('/api/v1/prospects/invite/preview', {
    ...{ ids, message: 'Would {name} like to earn {rate WHEEL-1}?' },
  });
  expect(letter.body.sample).toContain('to earn 33 %?');
});
it('inviting: who has joined is not invited, also a second ago under another way', async () => {
  expect((await invite([five[0]!.id])).body.lines[0]).toMatchObject({ outcome: 'joined' });
  const p = partnerAt(20);
  const email = `me@${new URL(p.sites.at(-1)!).hostname}`;
  await new Visitor(s.address).post('/api/v1/join', {
    name: p.name,
    email,
    country: 'PT',
    address: '',
    sites: ['elsewhere.example'],
    channels: '',
    note: 'Here I am.',
    product: '',
  });
  const waiting = (
    await owner.get<{ rows: { id: string; name: string }[] }>('/api/v1/applications')
  ).body.rows.find((r) => r.name === p.name);
  if (waiting)
    await owner.post('/api/v1/applications/decide', {
      ids: [waiting.id],
      decision: 'approve',
      timing: 'after-hold',
      reason: '',
      message: true,
    });
  expect((await invite([p.id])).body.lines[0]).toMatchObject({
    outcome: 'joined',
    said: 'is an affiliate already',
  });
});
it('inviting: a second time within 30 days asks first; afterwards it does not', async () => {
  await registry('registry-answers', 'silent');
  const p = partnerAt(30);
  await invite([p.id]);
  await outside(s.app, true);
  s.days(3);
  expect((await invite([p.id])).body).toMatchObject({
    invited: 0,
    lines: [{ outcome: 'open', said: 'was invited 3 d ago and has not answered yet' }],
  });
  expect((await invite([p.id], { again: true })).body.invited).toBe(1);
  s.days(31);
  expireInvites(s.app);
  expect((await find(p.id))[0]).toMatchObject({ state: 'invited', invite: 'expired' });
  expect((await invite([p.id])).body.invited).toBe(1);
});
it('inviting: counts towards the messages of the day, and says who is over', async () => {
  s.days(1);
  s.app.sqlite.exec('UPDATE programme SET messages_per_day = 2');
  touch(s.app, 'records');
  const three = [40, 41, 42].map((i) => partnerAt(i).id);
  expect(
    (
      await owner.post<{ lines: Line[]; left: number }>('/api/v1/prospects/invite/preview', {
        ids: three,
        message: 'Hello {name}, join us.',
      })
    ).body,
  ).toMatchObject({
    left: 2,
    lines: [{ outcome: 'invited' }, { outcome: 'invited' }, { outcome: 'over' }],
  });
  expect((await invite(three)).body.invited).toBe(2);
  expect((await list('limit=1')).invitesLeft).toBe(0);
  s.app.sqlite.exec('UPDATE programme SET messages_per_day = 50');
  touch(s.app, 'records');
});
it('inviting: waits while the registry is down, can be taken back then, and is handed over once', async () => {
  await registry('registry-mode', 'down');
  const p = partnerAt(50);
  await invite([p.id]);
  await outside(s.app, true);
  const read = async () =>
    (
      await owner.get<{ invites: { id: string; state: string; fault: string | null }[] }>(
        `/api/v1/prospects/${p.id}`,
      )
    ).body.invites[0]!;
  expect(await read()).toMatchObject({ state: 'waiting', fault: expect.stringContaining('503') });
  await registry('registry-mode', '');
  await outside(s.app, true);
  expect(await read()).toMatchObject({ state: 'sent', fault: null });
  expect((await owner.post<Fault>(`/api/v1/invites/${(await read()).id}/withdraw`)).body.code).toBe(
    'conflict',
  );
  await registry('registry-mode', 'down');
  const q = partnerAt(51);
  await invite([q.id]);
  const id = (await owner.get<{ invites: { id: string }[] }>(`/api/v1/prospects/${q.id}`)).body.invites[0]!
    .id;
  expect((await owner.post<{ state: string }>(`/api/v1/invites/${id}/withdraw`)).body.state).toBe(
    'withdrawn',
  );
  expect((await find(q.id))[0]).toMatchObject({ state: 'never' });
  await registry('registry-mode', '');
});
it('inviting: words that cannot be filled in, and sets that are gone, are refused at their field', async () => {
  const at = async (more: object) =>
    (await invite([partnerAt(60).id], more)).body.errors.map((e) => e.pointer);
  expect(await at({ message: 'Hello {nobody}, join us.' })).toEqual(['/message']);
  expect(await at({ message: 'short' })).toEqual(['/message']);
  expect(await at({ group: tag })).toEqual(['/group']);
  expect(await at({ tags: [group] })).toEqual(['/tags']);
  expect((await (await s.as('viewer')).post('/api/v1/prospects/invite', {})).status).toBe(403);
});

const vouched = Array.from({ length: 3000 }, (_, i) => partnerAt(i + 100)).filter((p) => p.vouched);
const apply = (p: ReturnType<typeof partnerAt>) =>
  new Visitor(s.address).post<{ outcome: string }>('/api/v1/join', {
    name: p.name,
    email: `hello@${new URL(p.sites[0]!).hostname}`,
    country: p.country,
    address: '',
    sites: [p.sites[0]!],
    channels: '',
    note: 'A letter a week.',
    product: 'WHEEL-1',
  });
it('those the registry vouches for: are let in after hold, with what the vouching rests on, until that is turned off', async () => {
  const [a, b] = vouched as [ReturnType<typeof partnerAt>, ReturnType<typeof partnerAt>];
  expect((await apply(a)).body.outcome).toBe('received');
  const id = s.app.sqlite
    .prepare("SELECT id FROM applications WHERE decided_by = 'registry' ORDER BY id DESC")
    .pluck()
    .get() as string;
  const sheet = (
    await owner.get<{
      timing: string;
      decidedBy: string;
      rule: { sentence: string };
      evidence: { registry: { id: string; vouched: string } };
    }>(`/api/v1/applications/${id}`)
  ).body;
  expect(sheet).toMatchObject({
    timing: 'after-hold',
    decidedBy: 'the registry',
    rule: { sentence: `The registry vouches for ${a.name}: ${a.vouched}` },
    evidence: { registry: { id: a.id, vouched: a.vouched } },
  });
  const { version, ...settings } = (
    await owner.get<{
      version: number;
      categories: string[];
      refundLine: string;
      inviteDays: number;
      messagesPerDay: number;
    }>('/api/v1/settings')
  ).body;
  const { categories, refundLine, inviteDays, messagesPerDay } = settings;
  expect(
    (
      await owner.put('/api/v1/settings/recruiting', {
        categories,
        refundLine,
        inviteDays,
        messagesPerDay,
        vouchedIn: false,
        version,
      })
    ).status,
  ).toBe(200);
  expect((await apply(b)).body.outcome).toBe('received');
  expect(s.app.sqlite.prepare('SELECT state FROM applications ORDER BY id DESC').pluck().get()).toBe(
    'waiting',
  );
});
it('vouched for: an address at a shared host proves nothing; a partner that is gone holds nobody up', async () => {
  const shared = {
    ...vouched[3]!,
    id: 'P-000901',
    name: 'Shared One',
    sites: ['https://many.example/one'],
  };
  takePartners(s.app, [
    shared,
    { ...shared, id: 'P-000902', name: 'Shared Two', sites: ['https://many.example/two'] },
  ]);
  expect(
    (
      await new Visitor(s.address).post<{ outcome: string }>('/api/v1/join', {
        name: 'Anyone',
        email: 'anyone@many.example',
        country: 'PT',
        address: '',
        sites: ['many.example'],
        channels: '',
        note: 'Hello.',
        product: '',
      })
    ).body.outcome,
  ).toBe('received');
  await invite(['P-000901', partnerAt(70).id]);
  await outside(s.app, true);
  const state = async (id: string) =>
    (await owner.get<{ invites: { state: string; fault: string | null }[] }>(`/api/v1/prospects/${id}`)).body
      .invites[0];
  expect(await state('P-000901')).toMatchObject({
    state: 'withdrawn',
    fault: expect.stringContaining('There is no partner P-000901'),
  });
  expect(await state(partnerAt(70).id)).toMatchObject({ state: 'sent' });
});
it('vouched for: sites as people write them, each once; a note from right to left stays as it is', async () => {
  const note = 'אני כותב על קרמיקה כל יום שישי ומצלם את האובניים.';
  const answer = await new Visitor(s.address).post<{ outcome: string }>('/api/v1/join', {
    name: 'Many Sites',
    email: 'many@sites-of-mine.example',
    country: 'PT',
    address: '',
    sites: [
      'töpferei.example',
      'https://Sites-of-mine.example:8080/a/',
      'sites-of-mine.example:8080/a',
      'HTTPS://töpferei.example/',
    ],
    channels: '',
    note,
    product: '',
  });
  expect(answer.body.outcome).toBe('received');
  const row = s.app.sqlite
    .prepare(
      "SELECT f.sites, a.note FROM affiliates f JOIN applications a ON a.affiliate = f.id WHERE f.name = 'Many Sites'",
    )
    .get() as { sites: string; note: string };
  expect([JSON.parse(row.sites), row.note]).toEqual([
    ['töpferei.example', 'sites-of-mine.example:8080/a'],
    note,
  ]);
});
it('those the registry vouches for: somebody else’s site is not enough: the e-mail address has to be at it', async () => {
  const c = vouched[2]!;
  expect(
    (
      await new Visitor(s.address).post<{ outcome: string }>('/api/v1/join', {
        name: c.name,
        email: 'thief@elsewhere.example',
        country: 'PT',
        address: '',
        sites: [c.sites[0]!],
        channels: '',
        note: 'It is mine.',
        product: '',
      })
    ).body.outcome,
  ).toBe('received');
});
