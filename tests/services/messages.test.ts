import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { invitations, messages } from '../../src/server/db/schema';
import { deliverWaiting, passwordLink, queue, withdraw } from '../../src/server/messages/service';
import { hash } from '../../src/server/seal';
import type { TestApp } from '../helpers/app';
import { addAffiliate, testApp } from '../helpers/app';

let t: TestApp;
beforeEach(() => { t = testApp(); });
afterEach(() => t.app.close());
const draft = (more: object = {}) => queue(t.app, { to: 'a@a.example', affiliate: null, kind: 'test', subject: 'Hello', body: 'Body', ...more });
const states = () => t.app.db.select({ state: messages.state, fault: messages.fault }).from(messages).orderBy(messages.id).all();

describe('the outbox', () => {
  it('delivers once, in order, from the programme’s address', async () => {
    draft({ subject: 'One' });
    draft({ subject: 'Two' });
    expect(await deliverWaiting(t.app)).toBe(2);
    expect(await deliverWaiting(t.app)).toBe(0);
    expect(t.mails.map((m) => [m.subject, m.from])).toEqual([['One', 'hello@quernstone.example'], ['Two', 'hello@quernstone.example']]);
  });
  it('a refused address is marked and holds nothing up', async () => {
    draft({ to: 'nobody@a.example' });
    draft();
    t.app.mail = { deliver: (mail) => (mail.to.startsWith('nobody') ? Promise.reject(new Error('550 no such person')) : Promise.resolve()) };
    await deliverWaiting(t.app);
    expect(states()).toEqual([{ state: 'bounced', fault: '550 no such person' }, { state: 'sent', fault: null }]);
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
    draft({ affiliate: id, body: `Set it: ${passwordLink}` });
    expect(t.app.db.select().from(invitations).all()).toEqual([]);
    await deliverWaiting(t.app);
    const token = /token=([\w-]{43})$/.exec(t.mails[0]!.body)![1]!;
    expect(t.app.db.select().from(invitations).all()).toMatchObject([{ tokenHash: hash(token), affiliate: id, usedAt: null }]);
    expect(t.app.db.select({ body: messages.body }).from(messages).get()!.body).toBe(`Set it: ${passwordLink}`);
  });
});
