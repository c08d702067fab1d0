import { expect, it } from 'vitest';
import { resolved, say, sayLine } from '../../../tests/helpers/terms';
import type { CreditReason } from '../attribution/reason';
import { keptFrom, keptText } from '../text/kept';
import {
  affiliatesNamed,
  describeDifference,
  describeOrder,
  describeOtherWay,
  orderReason,
  type OrderReason,
} from './reason';

const credit: CreditReason = { code: 'visit', age: 86_400_000 };
const nameOf = (id: string) => `“${id}”`;
const eur = (amount: number) => ({ amount, currency: 'EUR' });

/** The reason of an order by a rate and lines, said as people say them. */
function reasonOf(rate: string, lines: string[]) {
  const working = resolved({ rates: [say(rate)], lines: lines.map((l) => sayLine(l)) });
  return orderReason(credit, { isTest: false, ...working });
}

it('an order that earns says why it is credited, and nothing more', () => {
  expect(reasonOf('programme: 8 %', ['A 10.00'])).toBe(credit);
  expect(orderReason(credit, { isTest: false, total: 0, lines: null })).toBe(credit);
});

it('an order that earns nothing says each of the reasons once, in the order of its lines', () => {
  const nothing = reasonOf('product A: 0 %', ['A 10.00', 'B 5.00', 'A 1.00']);
  expect(nothing).toEqual({
    code: 'no-commission',
    credit,
    lines: [{ code: 'rate-is-nothing' }, { code: 'no-rate' }],
  });
  expect(describeOrder(nothing, nameOf)).toBe(
    'visit 1 day before the order; no commission: the rate comes to nothing, no rate applies on any rung',
  );
});

it('a test order says so, whoever is credited', () => {
  const test = orderReason(credit, { isTest: true, total: 5, lines: [] });
  expect(describeOrder(test, nameOf)).toBe('a test order: marked, never paid, never counted');
  expect(affiliatesNamed(test)).toEqual([]);
});

it('names the affiliate that a reason is about, inside of one that earns nothing too', () => {
  const first: CreditReason = { code: 'first-payment', affiliate: 'aff_1', subscription: 'S-1' };
  expect(affiliatesNamed(first)).toEqual(['aff_1']);
  const nothing: OrderReason = { code: 'no-commission', credit: first, lines: [{ code: 'used-up' }] };
  expect(affiliatesNamed(nothing)).toEqual(['aff_1']);
  expect(describeOrder(nothing, nameOf)).toBe(
    '“aff_1” brought the first payment of subscription S-1; no commission: the payments that earn are used up, and nothing comes after',
  );
});

it.each([
  [eur(1250), 'with the same amount', 'with the same amount'],
  [
    eur(990),
    'which said 9.90 EUR: the signed values count',
    'but the amounts differ: 12.50 counts, 9.90 came by the other way',
  ],
  [
    { amount: 1250, currency: 'USD' },
    'which said 12.50 USD: the signed values count',
    'but the currencies differ: EUR counts, USD came by the other way',
  ],
])('a picture that says %j beside a report of 12.50 EUR', (reported, before, after) => {
  const counts = eur(1250);
  expect(describeOtherWay({ code: 'picture-before', counts, reported })).toBe(
    `the fallback picture reported the same order before, ${before}; it counts once`,
  );
  expect(describeOtherWay({ code: 'picture-after', counts, reported })).toBe(
    `the same order came by the fallback picture as well, ${after}; it counts once`,
  );
  expect(describeDifference(counts, reported) === null).toBe(before === 'with the same amount');
});

it('a reason comes back from the database as it went in, and words of before as they stand', () => {
  const all = [credit, { code: 'test' }, reasonOf('product A: 0 %', ['B 1.00'])];
  for (const reason of all) expect(keptFrom(keptText(reason))).toEqual(reason);
  for (const words of [
    'visit 3 days before the order',
    '',
    '{not a code}',
    '{"code":"Bo"} brought the first payment',
  ])
    expect(keptFrom(keptText<OrderReason>(words))).toBe(words);
  expect(describeOrder('visit 3 days before the order', nameOf)).toBe('visit 3 days before the order');
});
