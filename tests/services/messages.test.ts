import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { MailRefused } from '../../src/server/ground/ports';
import { hash } from '../../src/server/ground/seal';
import { invitations } from '../../src/server/ground/tables/access';
import { messages } from '../../src/server/ground/tables/outbox';
import { deliverWaiting, patience } from '../../src/server/registers/outbox/delivery';
import { queue, withAccess, withdraw } from '../../src/server/registers/outbox/queue';
import { refusalOf } from '../../src/server/registers/outbox/smtp';
import { addAffiliate, testApp, type TestApp } from '../helpers/app';

let t: TestApp;
beforeEach(() => {
  t = testApp();
});
afterEach(() => t.app.close());
const draft = (more: object = {}) =>
  queue(t.app, { to: 'a@a.example', affiliate: null, kind: 'test', subject: 'Hello', body: 'Body', ...more });
const states = () =>
  t.app.db.select({ state: messages.state, fault: messages.fault }).from(messages).orderBy(messages.id).all();

describe('the outbox', () => {
  it('delivers once, in order, from the programme’s address', async () => {
    draft({ subject: 'One' });
    draft({ subject: 'Two' });
    expect(await deliverWaiting(t.app)).toBe(2);
    expect(await deliverWaiting(t.app)).toBe(0);
    expect(t.mails.map((m) => [m.subject, m.from])).toEqual([
      ['One', 'hello@quernstone.example'],
      ['Two', 'hello@quernstone.example'],
    ]);
  });
  it('a refused address is marked and holds nothing up', async () => {
    draft({ to: 'nobody@a.example' });
    draft();
    t.app.mail = {
      deliver: (mail) =>
        mail.to.startsWith('nobody')
          ? Promise.reject(new MailRefused('never', '550 no such person'))
          : Promise.resolve(),
    };
    await deliverWaiting(t.app);
    expect(states()).toEqual([
      { state: 'bounced', fault: '550 no such person' },
      { state: 'sent', fault: null },
    ]);
  });
  it('a held message waits and can be withdrawn; one that left cannot', async () => {
    draft({ subjectOf: 'apl_1', holdSeconds: 60 });
    expect(await deliverWaiting(t.app)).toBe(0);
    expect(withdraw(t.app, 'apl_1')).toBe(true);
    expect(states()).toEqual([]);
    draft({ subjectOf: 'apl_2' });
    await deliverWaiting(t.app);
    expect(withdraw(t.app, 'apl_2')).toBe(false);
    expect(withdraw(t.app, 'apl_none')).toBe(true);
  });
  it('makes a password link as the message leaves, and keeps only its hash', async () => {
    const { id } = addAffiliate(t.app, 'Ann');
    draft({ affiliate: id, body: withAccess(t.app, { password: null }, 'Set it: ', ' Thank you') });
    expect(t.app.db.select().from(invitations).all()).toEqual([]);
    await deliverWaiting(t.app);
    const token = /token=([\w-]{43}) Thank you$/.exec(t.mails[0]!.body)![1]!;
    expect(t.app.db.select().from(invitations).all()).toMatchObject([
      { tokenHash: hash(token), person: id, kind: 'affiliate', usedAt: null },
    ]);
    expect(t.app.db.select({ body: messages.body }).from(messages).get()!.body).not.toContain('token=');
  });
  it.each(['{{password-link}}', '{name}', '{portal}', '${access}', '%s'])(
    'a name that looks like one of our own words stays as it is: %s',
    async (name) => {
      const { id } = addAffiliate(t.app, 'Ann');
      draft({ affiliate: id, body: `Hello ${name},` });
      draft({ affiliate: id, body: withAccess(t.app, { password: null }, `Hello ${name}, `, ` by ${name}`) });
      await deliverWaiting(t.app);
      expect(t.mails[0]!.body).toBe(`Hello ${name},`);
      expect(t.mails[1]!.body.split('token=')).toHaveLength(2);
      expect(t.mails[1]!.body.endsWith(` by ${name}`)).toBe(true);
    },
  );
});

describe('mail that is not taken', () => {
  let real = 0;
  let say: MailRefused | null = null;
  let tries = 0;
  beforeEach(() => {
    real = Date.now();
    tries = 0;
    t.app.clock = { ...t.app.clock, real: () => real };
    t.app.mail = {
      deliver: () => {
        tries += 1;
        return say ? Promise.reject(say) : Promise.resolve();
      },
    };
  });
  it('for now is tried again, later and later, for two days, and then bounces', async () => {
    say = new MailRefused('later', '451 try later');
    draft();
    const at: number[] = [];
    const began = real;
    for (; real < began + patience + 4 * 3_600_000; real += 30_000) {
      const before = tries;
      await deliverWaiting(t.app);
      if (tries > before) at.push((real - began) / 60_000);
      if (states()[0]!.state === 'bounced') break;
    }
    expect(at.slice(0, 6)).toEqual([0, 1, 6, 21, 81, 261]);
    expect(states()).toEqual([{ state: 'bounced', fault: 'tried for two days: 451 try later' }]);
    expect(real - began).toBeGreaterThanOrEqual(patience);
  });
  it('is sent when the service is there again, and says nothing of it at the person', async () => {
    say = new MailRefused('unreachable', 'connect ECONNREFUSED');
    const { id } = addAffiliate(t.app, 'Ann');
    draft({ affiliate: id });
    draft({ affiliate: id });
    await deliverWaiting(t.app);
    // where nobody is reached the next is not tried either
    expect(tries).toBe(1);
    say = null;
    real += 60_000;
    expect(await deliverWaiting(t.app)).toBe(2);
    expect(states()).toEqual([
      { state: 'sent', fault: null },
      { state: 'sent', fault: null },
    ]);
    expect(t.app.sqlite.prepare('SELECT mail_fault FROM affiliates').pluck().all()).toEqual([null]);
  });
  it('waits where no mail service is set', async () => {
    t.app.mail = null;
    draft();
    expect(await deliverWaiting(t.app)).toBe(0);
    expect(states()).toEqual([{ state: 'waiting', fault: null }]);
  });
});

it.each([
  [{ responseCode: 550, command: 'RCPT TO' }, 'never'],
  [{ responseCode: 554, command: 'DATA' }, 'never'],
  [{ responseCode: 451, command: 'RCPT TO' }, 'later'],
  [{ responseCode: 452, command: 'DATA' }, 'later'],
  [{ responseCode: 535, command: 'AUTH PLAIN', code: 'EAUTH' }, 'unreachable'],
  [{ responseCode: 421, command: 'CONN' }, 'unreachable'],
  [{ code: 'ECONNREFUSED', command: 'CONN' }, 'unreachable'],
  [{ code: 'ETIMEDOUT' }, 'unreachable'],
  [{ code: 'EENVELOPE', command: 'API' }, 'never'],
])('mail that is not taken: SMTP %j means %s', (fault, when) => {
  expect(refusalOf(Object.assign(new Error('x'), fault)).when).toBe(when);
});
