import { expect, it } from 'vitest';
import { Client as Visitor } from '../../../scripts/journey/client';
import type { SectionsPolicy } from '../../../src/core/recruiting/sections-policy';
import { deliverWaiting } from '../../../src/server/registers/outbox/delivery';
import { closeNotice } from '../../../src/server/setup/policy/close';
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
  s,
  type Fault,
  type Own,
  type Policy,
} from './world';

prepare();

interface ByLink {
  name: string;
  current: Own['current'];
  over: string | null;
}
/** Tokens of the links in the mails of a kind that came to somebody, the oldest first. */
async function tokens(name: string, subject = 'Our terms change'): Promise<string[]> {
  while ((await deliverWaiting(s.app)) > 0);
  const mails = (
    await visitor(s.standins).get<{ to: string; subject: string; body: string; id: number }[]>(
      '/mailroom/messages.json',
    )
  ).body;
  return mails
    .filter((m) => m.to.startsWith(name) && m.subject.includes(subject) && m.body.includes('/accept/'))
    .map((m) => /\/accept\/(\S+)/.exec(m.body)![1]!);
}
const visitor = (address = s.address) => new Visitor(address);
const read = (token: string) => visitor().get<ByLink & Fault>(`/api/v1/acceptance/${token}`);
const acceptBy = (token: string) => visitor().post<ByLink & Fault>(`/api/v1/acceptance/${token}`);

it('a draft that was begun in the older form goes on as practices; its version before reads as it was', async () => {
  const old: SectionsPolicy = {
    form: 'sections',
    general: 'Mark your links. We pay {rate WHEEL-1}.',
    ownBrand: true,
    misspellings: false,
    directLinking: false,
    search: 'Ask before you bid.',
    counts: '',
    declined: '',
    branding: '',
    accepted: [],
    refused: [],
    kinds: '',
    ageRestricted: false,
    regulated: false,
    channels: '',
    noticeWeeks: 2,
    atEnd: 'remind',
  };
  const now = s.app.clock.now();
  const put = s.app.sqlite.prepare(
    `INSERT INTO policies (id, number, state, content, created_at, "by", published_at, holds_from, version) VALUES (?, ?, ?, ?, ?, 'stf_x', ?, ?, 1)`,
  );
  put.run('pol_old1', 1, 'published', JSON.stringify(old), now, now, now);
  put.run('pol_old2', 2, 'draft', JSON.stringify({ ...old, misspellings: true }), now, null, null);
  const first = (await owner.get<Policy>('/api/v1/policies/pol_old1')).body;
  expect(first.sections.map((x) => x.key)).toEqual(['general', 'search', 'goods', 'notice']);
  expect(first.sections[0]!.text).toBe('Mark your links. We pay 12 %.');
  const second = await draft();
  expect(second).toMatchObject({ id: 'pol_old2', content: { form: 'practices' } });
  expect(second.changes.practices).toMatchObject([
    { key: 'search-misspellings', was: 'not-here', is: 'welcome' },
  ]);
  const page = (await visitor().get<{ practices: { key: string }[] }>('/api/v1/join')).body;
  expect(page.practices.map((p) => p.key)).toEqual(['search-name', 'search-misspellings', 'direct-linking']);
});
it('tells everybody with a link of their own, in which stands what changes for them', async () => {
  const group = (await owner.post<{ id: string }>('/api/v1/sets', { of: 'group', name: 'Circle', about: '' }))
    .body.id;
  await owner.post(`/api/v1/sets/${group}/members`, { names: 'bob-bisque', others: 'move' });
  const d = await draft();
  const p = await publish({
    practices: answered(d.content, {
      'search-misspellings': 'not-here',
      'cash-return': {
        answer: 'not-here',
        exceptions: [{ who: group, answer: 'welcome', says: 'You pay members since ever.' }],
      },
    }),
  });
  expect(p).toMatchObject({ number: 2, outstanding: 2 });
  const [forMara] = await tokens('loamletters');
  const [forBob] = await tokens('bobbisque');
  expect(forMara).not.toBe(forBob);
  // staff, who read what was written to an affiliate, do not have its link
  const record = (
    await owner.get<{ messages: { subject: string; body: string }[] }>(`/api/v1/affiliates/${bob.id}`)
  ).body;
  const written = record.messages.find((m) => m.subject.startsWith('Our terms change'))!;
  expect(written.body).toContain('accept them here:');
  expect(written.body).not.toContain('/accept/');
  const view = (await read(forBob!)).body;
  expect(view).toMatchObject({ name: 'Bob Bisque', over: null, current: { number: 2, acceptedAt: null } });
  const practices = view.current!.changes.practices;
  expect(practices).toMatchObject([{ key: 'cash-return', was: null, is: 'welcome' }]);
  expect((await own(mara))!.changes.practices).toMatchObject([{ key: 'cash-return', is: 'not-here' }]);
});
it('accepts by the link, once, whoever has it', async () => {
  const [token] = await tokens('bobbisque');
  expect((await acceptBy(token!)).body.current!.acceptedAt).not.toBeNull();
  const first = (await read(token!)).body.current!.acceptedAt;
  s.days(1);
  expect((await acceptBy(token!)).body.current!.acceptedAt).toBe(first);
  expect(
    s.app.sqlite.prepare("SELECT count(*) FROM audit WHERE action = 'policy-accepted'").pluck().get(),
  ).toBe(1);
});
it('not by a link that was made up, cut off, or put together from others', async () => {
  const [a] = await tokens('bobbisque');
  const [b] = await tokens('loamletters');
  const [, policy, mark] = a!.split('.');
  const made = [
    a!.slice(0, -1),
    `${a}0`,
    `${mara.id}.${policy}.${mark}`,
    `${b!.split('.')[0]}.${policy}.${'0'.repeat(40)}`,
    'aff_nobody00.pol_nothing0.' + 'a'.repeat(40),
    'x'.repeat(60),
  ];
  for (const token of made)
    expect([(await read(token)).status, (await acceptBy(token)).status], token).toEqual([404, 404]);
  expect((await own(mara))!.acceptedAt).toBeNull();
});
it('says at the end of the notice, on Today, whom it met and what follows', async () => {
  interface Today {
    waiting: { kind: string; count: number; text: string; to: string }[];
    next: string[];
  }
  const today = async () => (await owner.get<Today>('/api/v1/today')).body;
  s.days(8);
  expect((await today()).next).toContainEqual(
    expect.stringContaining(
      'the notice of version 2 of the policy ends; 1 who have not accepted are reminded',
    ),
  );
  s.days(6);
  expect(closeNotice(s.app)).toBe(1);
  expect((await today()).waiting.find((w) => w.kind === 'policy')).toMatchObject({
    count: 1,
    text: '1 has not accepted version 2 of the policy',
    to: '/affiliates?only=unaccepted',
  });
  expect(
    (await owner.get<Policy & { closedFor: number }>(`/api/v1/policies/${(await own(mara))!.id}`)).body
      .closedFor,
  ).toBe(1);
  const [reminder] = await tokens('loamletters', 'have not accepted');
  await acceptBy(reminder!);
  expect((await today()).waiting.find((w) => w.kind === 'policy')).toBeUndefined();
});
it('a link is over once a newer version is published, and for who is not with us any more', async () => {
  const d = await draft();
  await publish({ practices: answered(d.content, { resale: 'welcome' }) });
  const [before, now] = await tokens('bobbisque');
  expect((await read(before!)).body).toMatchObject({
    current: null,
    over: expect.stringContaining('newer version') as string,
  });
  expect((await acceptBy(before!)).body.code).toBe('conflict');
  const { version } = (await owner.get<{ version: number }>(`/api/v1/affiliates/${bob.id}`)).body;
  await owner.post(`/api/v1/affiliates/${bob.id}/state`, { state: 'ended', reason: 'Moved away', version });
  expect((await read(now!)).body).toMatchObject({
    current: null,
    over: expect.stringContaining('not with us') as string,
  });
  expect((await acceptBy(now!)).body.code).toBe('conflict');
  expect((await own(mara))!.acceptedAt).toBeNull();
});
it('two versions in one day, with another notice, hold one after the other', async () => {
  const publishNotice = async (noticeWeeks: number) =>
    publish({ general: `Mark links, ${noticeWeeks}.`, noticeWeeks });
  const [long, short] = [await publishNotice(4), await publishNotice(1)];
  expect(short.holdsFrom).toBeGreaterThanOrEqual(long.holdsFrom);
  expect((await accept(mara, long.id)).body.code).toBe('conflict');
  await accept(mara, short.id);
  s.days(40);
  expect((await owner.get<Policy>(`/api/v1/policies/${short.id}`)).body.inForce).toBe(true);
});
it('a policy in a script from right to left, as long as it may be, is kept, compared and read', async () => {
  const long = 'شروط المشاركة مع العملاء '.repeat(790);
  const p = await publish({ general: long });
  expect(p.sections.find((x) => x.key === 'general')!.text).toBe(long);
  const changed = p.changes.sections.find((x) => x.key === 'general')!;
  expect(changed.parts.map((x) => x.mark)).toContain('added');
});

it('what changes is read filled in by whom it is for, and says in public from when it takes effect', async () => {
  const p = await publish({
    general: 'Clears {clearing}, paid {payment}, from {minimum} on, after {notice}.',
  });
  const changed = (await own(mara))!.changes.sections.find((x) => x.key === 'general')!;
  const text = changed.parts.map((x) => x.text).join('');
  expect(text).toContain('after the refund window');
  expect(text).not.toMatch(/[{}]/);
  // the merchant compares what was typed
  const typed = (await owner.get<Policy>(`/api/v1/policies/${p.id}`)).body.changes.sections;
  expect(
    typed
      .find((x) => x.key === 'general')!
      .parts.map((x) => x.text)
      .join(''),
  ).toContain('{clearing}');
  const page = () =>
    visitor().get<{ takesEffect: string; inForce: boolean; holdsFrom: number }>('/api/v1/policy');
  const { takesEffect, inForce, holdsFrom } = (await page()).body;
  expect([inForce, takesEffect]).toEqual([false, expect.stringMatching(/^\d+ [A-Z][a-z]{2} 20\d\d$/)]);
  s.app.clock.advance(holdsFrom - s.app.clock.now() + 1_000);
  expect((await page()).body.inForce).toBe(true);
});
