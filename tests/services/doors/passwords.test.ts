import { expect, it } from 'vitest';
import { Client } from '../../../scripts/journey/client';
import { newPasswordLink } from '../../../src/server/registers/access/links';
import { deliverWaiting } from '../../../src/server/registers/outbox/delivery';
import { password } from '../../helpers/server';
import { all, mara, one, owner, prepare, s, type Fault } from './world';

prepare();

const token = (link: string) => new URL(link).searchParams.get('token')!;
const setBy = (link: string, chosen: string) =>
  new Client(s.address).post<Fault & { state: string }>('/api/v1/portal/password', {
    token: token(link),
    password: chosen,
  });
const asked = async (email: string, side = '/portal') =>
  (await new Client(s.address).post<{ said: string }>(`/api/v1${side}/session/forgotten`, { email })).body
    .said;
const linkIn = async (email: string) => {
  await expect
    .poll(() =>
      one(
        'SELECT count(*) FROM messages WHERE to_address = ? AND kind = ? AND state = ?',
        email,
        'password-forgotten',
        'waiting',
      ),
    )
    .toBeGreaterThan(0);
  await deliverWaiting(s.app);
  const mails = (
    await owner.get<{ to: string; subject: string; body: string }[]>(`${s.standins}/mailroom/messages.json`)
  ).body;
  return /https?:\S+password\?token=\S+/.exec(
    mails.filter((m) => m.to === email && m.subject.startsWith('A new password')).at(-1)!.body,
  )![0];
};
it('passwords: are of twelve characters, and not common', async () => {
  const link = newPasswordLink(s.app, 'affiliate', mara.id);
  expect((await setBy(link, 'eleven char')).body.errors[0]!.detail).toBe(
    'Password is too short: at least 12 characters',
  );
  for (const easy of [
    'password1234',
    'qwertyuiop123',
    'aaaaaaaaaaaa',
    '123456789012',
    'Passw0rd!2024',
    'mara loam 12',
  ])
    expect((await setBy(link, easy)).body.errors[0]?.detail, easy).toContain('too easy to guess');
});
it('passwords: links die with the first that is used, and with every change', async () => {
  const links = [1, 2, 3].map(() => newPasswordLink(s.app, 'affiliate', mara.id));
  expect((await setBy(links[1]!, 'kiln letters by candlelight')).body.state).toBe('signed-in');
  for (const link of links)
    expect((await setBy(link, 'another one that is long enough')).body.errors[0]?.pointer).toBe('/token');
  const later = newPasswordLink(s.app, 'affiliate', mara.id);
  const portal = new Client(s.address);
  await portal.post('/api/v1/portal/session', {
    email: 'maraloam@maraloam.example',
    password: 'kiln letters by candlelight',
  });
  expect(
    (
      await portal.put<Fault>('/api/v1/portal/session/password', {
        current: 'not this one',
        password: 'ash glaze on a rainy friday',
      })
    ).body.errors[0],
  ).toMatchObject({ pointer: '/current' });
  expect(
    (
      await portal.put('/api/v1/portal/session/password', {
        current: 'kiln letters by candlelight',
        password: 'ash glaze on a rainy friday',
      })
    ).status,
  ).toBe(200);
  expect((await setBy(later, 'another one that is long enough')).body.errors[0]?.pointer).toBe('/token');
  // the one who changed it stays signed in, everybody else is out
  expect([
    (await portal.get('/api/v1/portal/home')).status,
    (await mara.client.get('/api/v1/portal/home')).status,
  ]).toEqual([200, 401]);
  mara.client = portal;
  expect(
    one(
      "SELECT count(*) FROM messages WHERE kind = 'password-changed' AND to_address = 'maraloam@maraloam.example'",
    ),
  ).toBe(2);
});
it('passwords: that are forgotten are set anew by mail; the answer is the same whoever asks, and mails are few', async () => {
  const email = 'maraloam@maraloam.example';
  const said = await asked(email);
  expect(await asked('nobody@nowhere.example')).toBe(said);
  const link = await linkIn(email);
  for (let i = 0; i < 6; i += 1) await asked(email);
  await deliverWaiting(s.app);
  expect(
    one("SELECT count(*) FROM messages WHERE kind = 'password-forgotten' AND to_address = ?", email),
  ).toBeLessThanOrEqual(3);
  expect(one("SELECT count(*) FROM messages WHERE to_address = 'nobody@nowhere.example'")).toBe(0);
  expect((await setBy(link, 'slip and engobe in four jars')).body.state).toBe('signed-in');
  expect(
    (
      await new Client(s.address).post('/api/v1/portal/session', {
        email,
        password: 'slip and engobe in four jars',
      })
    ).status,
  ).toBe(200);
  expect((await setBy(link, 'slip and engobe in five jars')).body.errors[0]?.pointer).toBe('/token');
});
it('passwords: of staff are changed and reset as well, and a link of one side opens nothing on the other', async () => {
  const manager = await s.as('manager');
  expect(
    (
      await manager.put('/api/v1/session/password', {
        current: password,
        password: 'bisque racks at half past six',
      })
    ).status,
  ).toBe(200);
  await asked('manager@quernstone.example', '');
  const link = await linkIn('manager@quernstone.example');
  expect((await setBy(link, 'bisque racks at half past seven')).body.errors[0]?.pointer).toBe('/token');
  expect(
    (
      await new Client(s.address).post<{ state: string }>('/api/v1/session/reset', {
        token: token(link),
        password: 'bisque racks at half past seven',
      })
    ).body.state,
  ).toBe('signed-in');
  expect((await manager.get('/api/v1/products')).status).toBe(401);
  const forAffiliate = newPasswordLink(s.app, 'affiliate', mara.id);
  expect(
    (
      await new Client(s.address).post<Fault>('/api/v1/session/reset', {
        token: token(forAffiliate),
        password: 'bisque racks at half past seven',
      })
    ).body.errors[0]?.pointer,
  ).toBe('/token');
});
it('passwords: are asked for again where payout details change, and the person is told', async () => {
  const portal = new Client(s.address);
  await portal.post('/api/v1/portal/session', {
    email: 'maraloam@maraloam.example',
    password: 'slip and engobe in four jars',
  });
  const { version } = (await portal.get<{ version: number }>('/api/v1/portal/payout-details')).body;
  const details = {
    holder: 'Mara Lindqvist',
    iban: 'PT50 0002 0123 1234 5678 9015 4',
    address: 'Rua do Forno 4',
    version,
  };
  const put = (more: object) =>
    portal.put<Fault & { iban: string }>('/api/v1/portal/payout-details', { ...details, ...more });
  expect((await put({})).body.errors.map((e) => e.pointer)).toEqual(['/password']);
  expect((await put({ password: 'not this one' })).body.errors).toMatchObject([
    { pointer: '/password', detail: 'Your password is not this one' },
  ]);
  expect(
    (
      await put({
        holder: '陶芸 & Co',
        address: 'a@b',
        iban: 'PT50 0000',
        password: 'slip and engobe in four jars',
      })
    ).body.errors.map((e) => e.pointer),
  ).toEqual(['/holder', '/address', '/iban']);
  expect(one('SELECT payee_iban FROM affiliates WHERE id = ?', mara.id)).toBe('GB33BUKB20201555555555');
  expect((await put({ password: 'slip and engobe in four jars' })).body.iban).toBe(
    'PT50000201231234567890154',
  );
  expect(
    one<string>(
      "SELECT body FROM messages WHERE kind = 'payout-details-changed' AND to_address = 'maraloam@maraloam.example' ORDER BY id DESC",
    ),
  ).toMatch(/ending in 0154 .*Before, it was the account ending in 5555/);
  mara.client = portal;
});

const form = (email: string, more: object = {}) => ({
  name: '{{password-link}} win a prize at http://x.example',
  email,
  country: 'PT',
  address: '',
  sites: ['x.example'],
  channels: '',
  note: 'A note.',
  product: '',
  ...more,
});
it('what an application says to whom: is the same to everybody, in words and in the shape', async () => {
  const client = new Client(s.address);
  const answers = await Promise.all(
    [
      form('fresh@fresh.example'),
      form('maraloam@maraloam.example'),
      form('maraloam@maraloam.example', { product: 'WHEEL-1' }),
    ].map(async (f) => (await client.post('/api/v1/join', f)).text),
  );
  expect(new Set(answers).size).toBe(1);
});
it('what an application says to whom: writes nothing of a stranger’s words to anybody, and three times a day at the most', async () => {
  const client = new Client(s.address);
  for (const product of ['', 'WHEEL-1', '', 'WHEEL-1', ''])
    await client.post('/api/v1/join', form('victim@victim.example', { product }));
  const bodies = all<string>(
    "SELECT subject || body FROM messages WHERE to_address = 'victim@victim.example'",
  );
  expect(bodies.length).toBe(3);
  for (const body of bodies) expect(body).not.toMatch(/prize|password-link|x\.example/);
  await deliverWaiting(s.app);
  expect(
    one(
      "SELECT count(*) FROM invitations WHERE affiliate = (SELECT id FROM affiliates WHERE email = 'victim@victim.example')",
    ),
  ).toBe(0);
});
it('what an application says to whom: its name makes no link before it is approved, and one after', async () => {
  await new Client(s.address).post('/api/v1/join', form('later@later.example'));
  await deliverWaiting(s.app);
  const links = () =>
    one(
      "SELECT count(*) FROM invitations WHERE affiliate = (SELECT id FROM affiliates WHERE email = 'later@later.example')",
    );
  expect(links()).toBe(0);
  const id = one(
    "SELECT a.id FROM applications a JOIN affiliates f ON f.id = a.affiliate WHERE f.email = 'later@later.example'",
  );
  await owner.post('/api/v1/applications/decide', {
    ids: [id],
    decision: 'approve',
    timing: 'after-hold',
    reason: '',
    message: true,
  });
  await deliverWaiting(s.app);
  expect(links()).toBe(1);
});
