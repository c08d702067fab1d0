import { expect, it } from 'vitest';
import { barredBy, describeBarred } from './barred';
import { barredCodes } from './lists';
import { affiliatesIn, describeCredit, describeVisit, type CreditReason, type VisitOutcome } from './reason';

const day = 86_400_000;
const nameOf = (id: string) => ({ aff_1: 'Loam Letters' })[id] ?? 'nobody known';

it.each<[CreditReason, string]>([
  [{ code: 'visit', age: 3 * day }, 'visit 3 days before the order'],
  [{ code: 'visit', age: 0 }, 'visit less than a minute before the order'],
  [{ code: 'last-visit', age: day }, 'the visitor’s last visit, 1 day before the order'],
  [
    { code: 'not-counted', affiliate: 'aff_1', why: { code: 'barred', by: 'affiliate-paused' } },
    'nobody is credited: the visit of Loam Letters is not counted, the affiliate is paused',
  ],
  [
    { code: 'not-counted', affiliate: 'aff_1', why: { code: 'outside', days: 30, over: 10 * day } },
    'nobody is credited: the visit of Loam Letters is not counted, outside the window of 30 days by 10 days',
  ],
  [{ code: 'visit-unknown' }, 'nobody is credited: the report names a visit that is not known here'],
  [
    { code: 'no-visit' },
    'nobody is credited: the report carries no visit and none is stored for the visitor',
  ],
  [
    { code: 'first-payment', affiliate: 'aff_1', subscription: 'S-1' },
    'Loam Letters brought the first payment of subscription S-1',
  ],
  [
    { code: 'first-payment-blocked', affiliate: 'aff_1', subscription: 'S-1' },
    'Loam Letters, who brought subscription S-1, is blocked',
  ],
  [{ code: 'first-payment-by-nobody', subscription: 'S-1' }, 'subscription S-1 began without an affiliate'],
  [
    { code: 'clicks', day: '2027-03-12', paid: 1, unpaid: [] },
    '1 counted click of 12 Mar 2027, each visitor once',
  ],
  [
    {
      code: 'clicks',
      day: '2027-03-12',
      paid: 40,
      unpaid: [
        { why: { code: 'same-visitor' }, clicks: 2 },
        { why: { code: 'same-address', most: 3 }, clicks: 9 },
      ],
    },
    '40 counted clicks of 12 Mar 2027, each visitor once; 2 more not paid: the same visitor clicked before on that day; 9 more not paid: more than 3 of one network address on that day',
  ],
])('%j reads as people say it', (reason, words) => {
  expect(describeCredit(reason, nameOf)).toBe(words);
  const named = affiliatesIn(reason);
  expect(words.includes('Loam Letters')).toBe(named.length === 1);
});

it('words that were stored before reasons had codes are read on as they stand, and name nobody anew', () => {
  const words = 'visit 3 days before the order';
  expect(describeCredit(words, nameOf)).toBe(words);
  expect(affiliatesIn('Loam Letters brought the first payment of subscription S-1')).toEqual([]);
  expect(describeVisit('an earlier visit')).toBe('an earlier visit');
});

it.each<[VisitOutcome, string]>([
  [{ code: 'reported' }, 'credited: the visit that the shop reported'],
  [{ code: 'last' }, 'credited: the last visit inside the window'],
  [{ code: 'earlier' }, 'an earlier visit'],
  [{ code: 'outside', days: 30, over: day }, 'outside the window of 30 days by 1 day'],
  [{ code: 'barred', by: 'automated' }, 'the visitor looks automated'],
])('a visit that came to %j is said', (outcome, words) => {
  expect(describeVisit(outcome)).toBe(words);
});

it('what keeps a visit from earning: the affiliate’s state before the product’s, nothing for who is active', () => {
  expect([barredBy('active', false), barredBy('active', true), barredBy('ended', true)]).toEqual([
    null,
    'product-retired',
    'affiliate-ended',
  ]);
  const words = barredCodes.map(describeBarred);
  expect(new Set(words).size).toBe(barredCodes.length);
  expect(words.every((w) => /^the (affiliate|product|visitor) /.test(w))).toBe(true);
});
