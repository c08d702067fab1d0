import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client as Visitor, type Client } from '../../scripts/journey/client';
import { outside } from '../../src/server/jobs/outside';
import { takePartners } from '../../src/server/recruit/prospects/copy';
import { newPasswordLink } from '../../src/server/registers/access/links';
import { closeNotice } from '../../src/server/setup/policy/acceptance';
import { partnerAt } from '../../src/standins/partners';
import { password, startServer, type TestServer } from '../helpers/server';

interface Fault {
  code: string;
  detail: string;
  errors: { pointer: string; detail: string }[];
}
interface Policy {
  id: string;
  number: number;
  version: number;
  state: string;
  inNotice: boolean;
  inForce: boolean;
  accepted: number;
  outstanding: number;
  holdsFrom: number;
  content: Record<string, unknown>;
  sections: { key: string; text: string }[];
  changes: { key: string; parts: { text: string; mark: string }[] }[];
}
interface Own {
  current: {
    id: string;
    number: number;
    acceptedAt: number | null;
    changes: unknown[];
    inNotice: boolean;
  } | null;
}

let s: TestServer;
let owner: Client;
let mara: Awaited<ReturnType<TestServer['affiliate']>>;
let bob: Awaited<ReturnType<TestServer['affiliate']>>;
let wheel = '';
beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
  wheel = await s.product('WHEEL-1', { reward: '12', refundDays: 5 });
  mara = await s.affiliate('Loam Letters', { timing: 'at-sale' });
  bob = await s.affiliate('Bob Bisque', { timing: 'at-sale' });
});
afterAll(() => s.close());

const draft = async () => (await owner.post<Policy>('/api/v1/policies/draft')).body;
async function publish(content: object): Promise<Policy> {
  const d = await draft();
  const edited = await owner.put<Policy & Fault>(`/api/v1/policies/${d.id}`, {
    ...d.content,
    ...content,
    version: d.version,
  });
  expect(edited.status, edited.text).toBe(200);
  const done = await owner.post<Policy>(`/api/v1/policies/${d.id}/publish`, { version: edited.body.version });
  expect(done.status, done.text).toBe(200);
  return done.body;
}
const own = async (who: typeof mara) => (await who.client.get<Own>('/api/v1/portal/policy')).body.current;
const accept = (who: typeof mara, policy: string) =>
  who.client.post<Own & Fault>('/api/v1/portal/policy/accept', { policy });
const run = async () => {
  const day = new Date(s.app.clock.now()).toISOString().slice(0, 10);
  const { id, version } = (
    await owner.post<{ id: string; version: number }>('/api/v1/payouts', { cutoff: day, minimum: '' })
  ).body;
  const view = (await owner.get<{ leftOut: { name: string; why: string }[] }>(`/api/v1/payouts/${id}`)).body;
  await owner.post(`/api/v1/payouts/${id}/discard`, { version });
  return view;
};

describe('a policy', () => {
  it('is drafted once, refuses what contradicts itself or cannot be filled in, and can be thrown away', async () => {
    const d = await draft();
    expect((await draft()).id).toBe(d.id);
    const at = async (content: object) =>
      (
        await owner.put<Fault>(`/api/v1/policies/${d.id}`, {
          ...d.content,
          general: 'Mark links.',
          ...content,
          version: d.version,
        })
      ).body.errors.map((e) => e.pointer);
    expect(await at({ accepted: ['blog'], refused: ['blog'] })).toEqual(['/refused']);
    expect(await at({ general: 'We pay {rate NOPE-1}.' })).toEqual(['/general']);
    expect(await at({ accepted: ['plumber'] })).toEqual(['/accepted']);
    expect(await at({ noticeWeeks: 5 })).toEqual(['/noticeWeeks']);
    expect(
      (await owner.put<Fault>(`/api/v1/policies/${d.id}`, { ...d.content, general: 'x', version: 9 })).body
        .code,
    ).toBe('stale');
    expect((await owner.post(`/api/v1/policies/${d.id}/drop`)).status).toBe(200);
    expect((await owner.get<{ rows: unknown[] }>('/api/v1/policies')).body.rows).toEqual([]);
  });
  it('holds at once the first time, with the rates of the moment in its words', async () => {
    const p = await publish({
      general: 'We pay {rate WHEEL-1} on the wheel.',
      noticeWeeks: 2,
      atEnd: 'hold-pay',
    });
    expect(p).toMatchObject({ number: 1, inForce: true, inNotice: false, outstanding: 2 });
    expect(p.sections[0]!.text).toBe('We pay 12 % on the wheel.');
    expect(
      (await new Visitor(s.address).get<{ sections: { text: string }[] }>('/api/v1/policy')).body.sections[0]!
        .text,
    ).toBe('We pay 12 % on the wheel.');
    expect(s.app.sqlite.prepare("SELECT count(*) FROM messages WHERE kind = 'policy'").pluck().get()).toBe(2);
    expect(
      (await owner.put<Fault>(`/api/v1/policies/${p.id}`, { ...p.content, version: p.version })).body.code,
    ).toBe('conflict');
  });
  it('has to be accepted by whoever applies from then on', async () => {
    const apply = (more: object) =>
      new Visitor(s.address).post<Fault & { outcome: string }>('/api/v1/join', {
        name: 'New Pots',
        email: 'new@newpots.example',
        country: 'PT',
        address: '',
        sites: ['newpots.example'],
        channels: '',
        note: 'A note of mine.',
        product: '',
        ...more,
      });
    expect((await apply({})).body.errors.map((e) => e.pointer)).toEqual(['/policy']);
    expect((await apply({ policy: true })).body.outcome).toBe('received');
    const accepted = () =>
      s.app.sqlite
        .prepare(
          "SELECT count(*) FROM acceptances c JOIN affiliates a ON a.id = c.affiliate WHERE a.email = 'new@newpots.example'",
        )
        .pluck()
        .get();
    // anybody can tick it in anybody's name: it counts once the person came by the link that was sent to the address
    expect(accepted()).toBe(0);
    const id = s.app.sqlite
      .prepare(
        "SELECT a.id FROM applications a JOIN affiliates f ON f.id = a.affiliate WHERE f.email = 'new@newpots.example'",
      )
      .pluck()
      .get() as string;
    await owner.post('/api/v1/applications/decide', {
      ids: [id],
      decision: 'approve',
      timing: 'after-hold',
      reason: '',
      message: true,
    });
    expect(accepted()).toBe(0);
    const who = s.app.sqlite
      .prepare("SELECT id FROM affiliates WHERE email = 'new@newpots.example'")
      .pluck()
      .get() as string;
    const link = new URL(newPasswordLink(s.app, 'affiliate', who)).searchParams.get('token');
    expect(
      (
        await new Visitor(s.address).post<{ state: string }>('/api/v1/portal/password', {
          token: link,
          password,
        })
      ).body.state,
    ).toBe('signed-in');
    expect(accepted()).toBe(1);
    s.app.sqlite.exec("UPDATE affiliates SET state = 'ended' WHERE email = 'new@newpots.example'");
  });
  it('is not accepted in the name of one of the affiliates by whoever sends the form', async () => {
    const before = s.app.sqlite.prepare('SELECT count(*) FROM acceptances').pluck().get();
    const email = s.app.sqlite
      .prepare('SELECT email FROM affiliates WHERE id = ?')
      .pluck()
      .get(bob.id) as string;
    const form = {
      name: 'Bob',
      email,
      country: 'PT',
      address: '',
      sites: ['bob.example'],
      channels: '',
      note: 'I am Bob.',
      product: '',
      policy: true,
    };
    expect((await new Visitor(s.address).post('/api/v1/join', form)).status).toBe(200);
    expect(s.app.sqlite.prepare('SELECT count(*) FROM acceptances').pluck().get()).toBe(before);
  });
  it('that is changed is announced by the notice it promised; what differs is marked; affiliates accept once', async () => {
    expect(
      (await owner.post<Fault>(`/api/v1/policies/${(await draft()).id}/publish`, { version: 1 })).body.detail,
    ).toContain('Nothing differs');
    const p = await publish({
      general: 'We pay {rate WHEEL-1} on the wheel, and thank you.',
      ownBrand: true,
    });
    expect(p).toMatchObject({ number: 2, inForce: false, inNotice: true });
    expect(p.changes.map((c) => c.key)).toEqual(['general', 'search']);
    expect(
      p.changes[0]!.parts.filter((x) => x.mark === 'added')
        .map((x) => x.text)
        .join(''),
    ).toContain('and thank you');
    expect(Math.round((p.holdsFrom - s.app.clock.now()) / 86_400_000)).toBe(14);
    expect(await own(mara)).toMatchObject({ number: 2, acceptedAt: null, inNotice: true });
    expect((await accept(mara, p.id)).body.current!.acceptedAt).not.toBeNull();
    await accept(mara, p.id);
    // the roster finds who still owes it
    expect(
      (await owner.get<{ rows: { name: string }[] }>('/api/v1/affiliates?only=unaccepted')).body.rows.map(
        (r) => r.name,
      ),
    ).toEqual(['Bob Bisque']);
    expect(
      s.app.sqlite
        .prepare("SELECT count(*) FROM audit WHERE action = 'policy-accepted' AND subject = ?")
        .pluck()
        .get(p.id),
    ).toBe(1);
    expect(
      (await accept(bob, (await owner.get<{ rows: Policy[] }>('/api/v1/policies')).body.rows.at(-1)!.id)).body
        .detail,
    ).toContain('A newer version');
  });
  it('at the end of the notice leaves out of payment who has not accepted, and reminds them once', async () => {
    for (const [i, who] of [mara, bob].entries())
      await s.report('orders', {
        order: `P-${i}`,
        placedAt: new Date(s.app.clock.now()).toISOString(),
        currency: 'EUR',
        lines: [{ product: 'WHEEL-1', quantity: 1, amount: '200.00' }],
        visit: await s.visit(await who.link('WHEEL-1')),
      });
    // the first version holds at once, and who was there before has the time of a notice to accept it
    expect((await run()).leftOut.filter((l) => l.why.includes('policy'))).toEqual([]);
    expect(closeNotice(s.app)).toBe(0);
    s.days(15);
    expect(closeNotice(s.app)).toBe(1);
    expect(closeNotice(s.app)).toBe(0);
    expect(
      s.app.sqlite.prepare("SELECT count(*) FROM messages WHERE kind = 'policy-reminder'").pluck().get(),
    ).toBe(1);
    expect(
      (await owner.get<{ rows: Policy[] }>('/api/v1/policies')).body.rows.map((r) => [r.number, r.inForce]),
    ).toEqual([
      [2, true],
      [1, false],
    ]);
    expect((await run()).leftOut.map((l) => [l.name, l.why])).toContainEqual([
      'Bob Bisque',
      'the policy in force is not accepted',
    ]);
    await accept(bob, (await own(bob))!.id);
    expect((await run()).leftOut.filter((l) => l.why.includes('policy'))).toEqual([]);
  });
  it('that pauses takes back its pause with the acceptance, and no other', async () => {
    const p = await publish({ general: 'A third text.', atEnd: 'pause' });
    await owner.post(`/api/v1/affiliates/${mara.id}/state`, {
      state: 'paused',
      reason: '',
      version: (await owner.get<{ version: number }>(`/api/v1/affiliates/${mara.id}`)).body.version,
    });
    s.days(15);
    closeNotice(s.app);
    const state = async (who: typeof mara) =>
      (await owner.get<{ state: string }>(`/api/v1/affiliates/${who.id}`)).body.state;
    expect([await state(mara), await state(bob)]).toEqual(['paused', 'paused']);
    await accept(mara, p.id);
    await accept(bob, p.id);
    expect([await state(mara), await state(bob)]).toEqual(['paused', 'active']);
  });
});

describe('offer pages', () => {
  interface Offer {
    id: string;
    slug: string;
    version: number;
    entry: string;
    fault: string | null;
    words: { from: string; text: string }[];
    live: boolean;
  }
  const fields = {
    headline: 'A wheel for the table',
    about: 'For {price WHEEL-1}.',
    benefits: ['Light'],
    language: 'en',
    category: 'Crafts and studio supplies',
  };
  const read = async () => (await owner.get<{ rows: Offer[] }>('/api/v1/offers')).body.rows[0]!;
  it('say what is paid now, to everybody once they are open', async () => {
    const made = (await owner.post<Offer & Fault>('/api/v1/offers', { ...fields, products: [wheel] })).body;
    expect(made).toMatchObject({ slug: 'a-wheel-for-the-table', live: false });
    const visitor = new Visitor(s.address);
    expect((await visitor.get(`/api/v1/offer/${made.slug}`)).status).toBe(404);
    expect((await owner.get<{ live: boolean }>(`/api/v1/offer/${made.slug}`)).body.live).toBe(false);
    await owner.post(`/api/v1/offers/${made.id}/live`, { on: true, version: made.version });
    expect((await visitor.get(`/api/v1/offer/${made.slug}`)).body).toMatchObject({
      about: 'For €100.00.',
      products: [{ code: 'WHEEL-1', reward: '12 %', epc: null }],
    });
    expect((await owner.post<Offer>('/api/v1/offers', { ...fields, products: [wheel] })).body.slug).toBe(
      'a-wheel-for-the-table-2',
    );
    const at = async (more: object) =>
      (await owner.post<Fault>('/api/v1/offers', { ...fields, products: [wheel], ...more })).body.errors.map(
        (e) => e.pointer,
      );
    expect([
      await at({ about: '{price X-9}' }),
      await at({ category: 'Nonsense' }),
      await at({ products: ['prd_nothere00'] }),
      await at({ headline: ' ' }),
    ]).toEqual([['/about'], ['/category'], ['/products'], ['/headline']]);
  });
  it('go to the catalogue’s reviewer, who asks, is answered in place, and lists; each step is told', async () => {
    const { id } = await read();
    expect((await owner.post<Offer>(`/api/v1/offers/${id}/submit`)).body.entry).toBe('submitted');
    expect((await owner.post<Fault>(`/api/v1/offers/${id}/submit`)).body.code).toBe('conflict');
    takePartners(s.app, [partnerAt(0)]);
    s.app.sqlite.exec('UPDATE registry_sync SET done_at = 9e15');
    await outside(s.app, true);
    expect((await read()).fault).toBeNull();
    s.days(2);
    await outside(s.app, true);
    expect(await read()).toMatchObject({ entry: 'question', words: [{ from: 'reviewer' }] });
    await owner.post(`/api/v1/offers/${id}/answer`, { text: 'All of Europe, and we pay for returns.' });
    await outside(s.app, true);
    s.days(3);
    await outside(s.app, true);
    expect(await read()).toMatchObject({
      entry: 'listed',
      words: [{ from: 'reviewer' }, { from: 'merchant' }, { from: 'reviewer' }],
    });
    expect(
      s.app.sqlite
        .prepare(
          "SELECT subject FROM messages WHERE kind = 'entry' AND to_address = 'owner@quernstone.example' ORDER BY id",
        )
        .pluck()
        .all(),
    ).toEqual([
      'The catalogue asks about A wheel for the table',
      'Listed in the catalogue: A wheel for the table',
    ]);
    const others = (
      await owner.get<{ rows: { own: boolean; ratePpm: number }[]; rate: { place: number; of: number } }>(
        `/api/v1/offers/${id}/others`,
      )
    ).body;
    expect(others.rows.find((r) => r.own)!.ratePpm).toBe(120_000);
    expect(others.rate).toEqual({
      place: 1 + others.rows.filter((r) => !r.own && r.ratePpm > 120_000).length,
      of: others.rows.length,
    });
  });
  it('and news are among what an affiliate works with, with its own link', async () => {
    const notice = (
      await owner.post<{ id: string }>('/api/v1/notices', {
        kind: 'news',
        title: 'Back',
        body: 'You earn {rate WHEEL-1}.',
        product: wheel,
      })
    ).body;
    const resources = async () =>
      (
        await bob.client.get<{
          notices: { body: string }[];
          offers: { products: { link: string | null }[] }[];
        }>('/api/v1/portal/resources')
      ).body;
    expect(await resources()).toMatchObject({
      notices: [{ body: 'You earn 12 %.' }],
      offers: [{ products: [{ link: await bob.link('WHEEL-1') }] }],
    });
    await owner.post(`/api/v1/notices/${notice.id}/remove`, { on: true });
    expect((await resources()).notices).toEqual([]);
    await owner.post(`/api/v1/notices/${notice.id}/remove`, { on: false });
    expect((await resources()).notices).toHaveLength(1);
  });
});

describe('looking as an affiliate', () => {
  it('shows staff the portal of one, reading only', async () => {
    const as = { 'x-gravenel-as': bob.id };
    const viewer = await s.as('viewer');
    expect((await viewer.send('GET', '/api/v1/portal/home', undefined, as)).status).toBe(200);
    expect(
      (await viewer.send<{ person: { name: string } }>('GET', '/api/v1/portal/session', undefined, as)).body
        .person.name,
    ).toBe('Bob Bisque');
    // an account number stays hidden from staff
    expect(
      (await viewer.send<{ iban: string }>('GET', '/api/v1/portal/payout-details', undefined, as)).body.iban,
    ).toBe('GB33 … 5555');
    expect((await owner.send('PUT', '/api/v1/portal/letters', { on: false }, as)).status).toBe(403);
    expect(
      (await owner.send('GET', '/api/v1/portal/home', undefined, { 'x-gravenel-as': 'aff_nothere00' }))
        .status,
    ).toBe(404);
    // it is nothing to those who are not of the staff
    expect((await mara.client.send('GET', '/api/v1/portal/home', undefined, as)).status).toBe(401);
    expect((await new Visitor(s.address).send('GET', '/api/v1/portal/home', undefined, as)).status).toBe(401);
  });
});
