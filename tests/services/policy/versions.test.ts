import { expect, it } from 'vitest';
import { Client as Visitor } from '../../../scripts/journey/client';
import { type Id } from '../../../src/core/text/id';
import { newPasswordLink } from '../../../src/server/registers/access/links';
import { closeNotice } from '../../../src/server/setup/policy/close';
import { password } from '../../helpers/server';
import {
  accept,
  answered,
  bob,
  draft,
  mara,
  own,
  owner,
  prepare,
  publish,
  run,
  s,
  type Fault,
  type Policy,
} from './world';

prepare();

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
  expect(p.sections.find((x) => x.key === 'general')!.text).toBe('We pay 12 % on the wheel.');
  expect(
    (
      await new Visitor(s.address).get<{ sections: { key: string; text: string }[] }>('/api/v1/policy')
    ).body.sections.find((x) => x.key === 'general')!.text,
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
    .get() as Id<'affiliate'>;
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
    (await owner.post<Fault>(`/api/v1/policies/${(await draft()).id}/publish`, { version: 1, empty: [] }))
      .body.detail,
  ).toContain('Nothing differs');
  const p = await publish({
    general: 'We pay {rate WHEEL-1} on the wheel, and thank you.',
    practices: answered((await draft()).content, { 'search-name': 'welcome' }),
  });
  expect(p).toMatchObject({ number: 2, inForce: false, inNotice: true });
  expect(p.changes.practices).toMatchObject([{ key: 'search-name', was: null, is: 'welcome' }]);
  expect(p.changes.sections.map((c) => c.key)).toEqual(['general']);
  expect(
    p.changes.sections[0]!.parts.filter((x) => x.mark === 'added')
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
