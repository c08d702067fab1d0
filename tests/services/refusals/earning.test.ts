import { describe, expect, it } from 'vitest';
import { nothing, prepare, says, saysInPortal, type Refused } from './world';

// what nobody meets on the way that is walked every day: each refusal says which field, and why
prepare();

const request = { kind: 'banner', size: '', subject: '', language: '', product: '', words: 'A tall one.' };
const noon = Date.parse('2027-03-12T10:00:00Z');
const [past, coming] = [noon - 86_400_000, noon + 86_400_000];

describe('a creative or a coupon', () => {
  it.each<Refused>([
    [`GET creatives/${nothing('cre')}`, undefined, '404 This creative does not exist'],
    [`GET coupons/${nothing('cpn')}`, undefined, '404 This coupon does not exist'],
    ['GET creatives?size=wide', undefined, '422 /size: Size: “wide” is none'],
    [
      'POST creatives/many',
      { ids: [nothing('cre')], changes: { active: false } },
      '404 This creative does not exist',
    ],
    ['POST creatives/many/undo', { act: nothing('act') }, '404 There is no such act'],
    ['POST coupons/:coupons/shop', { what: 'nothing' }, '422 /what: What must be one of said, refused'],
    [
      'POST coupons/:coupons/relaunch',
      { code: 'OWN10', from: null, until: null },
      '422 /code: Code: OWN10 is there already for some of this time; end that one first, or take another code',
    ],
    [`POST material/${'b'.repeat(64)}/webp`, undefined, '404 There is no such file'],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('a change that is planned', () => {
  it.each<Refused>([
    [
      'POST creatives/:creatives/planned',
      { at: past, changes: { name: 'x' } },
      '422 /at: Moment: 11 Mar 2027, 10:00 is past; change it at once instead',
    ],
    [
      'POST creatives/:creatives/planned',
      { at: coming, changes: { name: '' } },
      '422 /changes/name: Name is empty',
    ],
    [
      `POST creatives/${nothing('cre')}/planned`,
      { at: coming, changes: { name: 'x' } },
      '404 What this is planned for does not exist',
    ],
    [
      'POST coupons/:coupons/planned',
      { at: coming, changes: { name: 'x' } },
      '422 /changes/name: “name” is not a known field',
    ],
    [`POST planned/${nothing('pln')}/undo`, undefined, '404 This planned change does not exist'],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('what was asked for', () => {
  it.each<Refused>([
    [
      'POST requests/:requests/answer',
      { creative: null, answer: '', version: 1 },
      '422 /answer: Words: say something, or choose a creative',
    ],
    [
      'POST requests/:requests/answer',
      { creative: nothing('cre'), answer: '', version: 1 },
      '422 /creative: Creative: this affiliate would not find it: it is not on, not for it, or for a product that it does not promote',
    ],
    [`POST requests/${nothing('req')}/reopen`, undefined, '404 Nobody has asked for this'],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('a sale or a report', () => {
  it.each<Refused>([
    [`GET orders/${nothing('ord')}`, undefined, '404 This sale does not exist'],
    ['GET orders?from=2027-02-31', undefined, '422 /from: 2027-02-31 is not a day of the calendar'],
    [
      'GET orders?from=2027-03-02&to=2027-03-01',
      undefined,
      '422 /to: The range is reversed: 2027-03-01 is before 2027-03-02',
    ],
    [`GET reports/${nothing('rep')}`, undefined, '404 This report is not in the log'],
    ['PUT connection/keys/key_nothing/pictures', { on: true }, '404 This key does not exist'],
    [`POST unconfirmed/${nothing('pic')}/confirm`, undefined, '404 This unconfirmed sale does not exist'],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('a commission', () => {
  it.each<Refused>([
    [
      `POST commissions/${nothing('com')}/decline`,
      { reason: 'Own purchase' },
      '404 This commission does not exist',
    ],
    [
      `POST commissions/${nothing('com')}/correct`,
      { difference: '1.00', reason: 'Agreed by phone' },
      '404 This commission does not exist',
    ],
    [
      'POST commissions/:commissions/correct',
      { difference: '1.005', reason: 'Agreed by phone' },
      '422 /difference: Difference: EUR has at most 2 decimals, “1.005” has 3',
    ],
    [
      'POST commissions/:commissions/correct',
      { difference: '0', reason: 'Agreed by phone' },
      '422 /difference: Difference: nothing to correct',
    ],
    [
      `POST affiliates/${nothing('aff')}/give-up`,
      { reason: 'Left the country' },
      '404 This affiliate does not exist',
    ],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('a payout run', () => {
  it.each<Refused>([
    [`GET payouts/${nothing('run')}`, undefined, '404 This payout run does not exist'],
    [
      'POST payouts',
      { cutoff: '2027-02-31', minimum: '' },
      '422 /cutoff: Cut-off day is not a day of the calendar',
    ],
    [
      'POST payouts',
      { cutoff: '2027-03-12', minimum: '1.005' },
      '422 /minimum: Minimum: EUR has at most 2 decimals, “1.005” has 3',
    ],
    [
      'POST payouts/:payouts/approve',
      { version: 1, total: 0 },
      '409 Run 1 is sent; it cannot become approved',
    ],
    ['POST payouts/:payouts/discard', { version: 99 }, '409 Run 1 is sent; it cannot become discarded'],
    [
      'POST payouts/:payouts/exclude',
      { affiliate: nothing('aff'), exclude: true, version: 1 },
      '409 Run 1 was changed meanwhile; look again and repeat',
    ],
    [
      'POST payouts/status',
      { name: 'x', content: 'nothing' },
      '422 /content: Status report: neither a pain.002 nor a CSV with the columns end_to_end_id and status',
    ],
    [`POST payments/${nothing('pay')}/settle`, { reference: 'BANK-1' }, '404 This payment does not exist'],
    [`GET payments/${nothing('pay')}/statement.csv`, undefined, '404 This payment does not exist'],
  ])('%s', async (call, body, answer) => {
    expect(await says(call, body)).toBe(answer);
  });
});

describe('in the portal, a period', () => {
  it.each<Refused>([
    ['GET portal/earnings?from=2027-02-31', undefined, '422 /from: From: “2027-02-31” is no day'],
    [
      'GET portal/earnings?from=2027-03-02&to=2027-03-01',
      undefined,
      '422 /to: To: 2027-03-01 is before 2027-03-02',
    ],
    [
      'GET portal/figures?by=day&from=2025-01-01&to=2027-03-01',
      undefined,
      '422 /from: From: a year can be looked at at once',
    ],
    [
      'GET portal/figures?by=colour',
      undefined,
      '422 /by: By must be one of day, link, creative, coupon, product, s1, s2, s3, s4, s5',
    ],
  ])('%s', async (call, body, answer) => {
    expect(await saysInPortal(call, body)).toBe(answer);
  });
});

describe('in the portal, what is offered', () => {
  it.each<Refused>([
    ['GET portal/material?product=NOTHING-1', undefined, '404 There is no product NOTHING-1'],
    ['GET portal/material?size=wide', undefined, '422 /size: Size: “wide” is none'],
    [
      `GET portal/material/${nothing('cre')}`,
      undefined,
      '404 This is not offered to you now. Links of it that you have put somewhere lead on and earn as before.',
    ],
    [
      `POST portal/coupons/${nothing('cpn')}/link`,
      undefined,
      '404 This coupon is not for you now, or it is over',
    ],
    [
      'POST portal/requests',
      { ...request, size: 'wide' },
      '422 /size: Size: two numbers of pixels with an x between them',
    ],
    [
      'POST portal/requests',
      { ...request, product: 'NOTHING-1' },
      '422 /product: Product: you promote none of the code NOTHING-1; leave it empty for any',
    ],
    [`POST portal/requests/${nothing('req')}/withdraw`, undefined, '404 Nobody has asked for this'],
    [
      'POST portal/links',
      { product: 'NOTHING-1', page: 'https://x.example/' },
      '422 /product: Product: you do not promote NOTHING-1 now | /page: Page: x.example is not among the hosts that links may lead to: shop.quernstone.example',
    ],
  ])('%s', async (call, body, answer) => {
    expect(await saysInPortal(call, body)).toBe(answer);
  });
});

describe('in the portal, what is one’s own', () => {
  it.each<Refused>([
    [
      'PUT portal/card',
      { card: nothing('set') },
      '422 /card: Rate card: this one is not open for choice any more',
    ],
    [`POST portal/questions/${nothing('qst')}/answer`, { answer: 'x' }, '404 This question does not exist'],
    [`GET portal/payments/${nothing('pay')}/statement.csv`, undefined, '404 This payment does not exist'],
    [
      'POST portal/policy/accept',
      { policy: nothing('pol') },
      '404 This version of the policy does not exist',
    ],
  ])('%s', async (call, body, answer) => {
    expect(await saysInPortal(call, body)).toBe(answer);
  });
});
