import { expect, it } from 'vitest';
import { plain, resolved, say, sayLine } from '../../../tests/helpers/terms';
import { Seeded } from '../../demo/random';
import { buildBook } from './book';
import { capLeft } from './caps';
import { amountsAndCaps } from './resolve';
import { spentBy } from './spent';
import { type Working } from './working';

/** The payments of one order, each resolved after those before it. @returns what each earns, minor units */
function payments(rates: string[], amounts: string[]): Working[] {
  const book = rates.map(say);
  const done: Working[] = [];
  amounts.forEach((amount, i) => {
    const before = done.flatMap((w) => w.lines).map((working) => ({ working, left: working.amount }));
    done.push(
      resolved({
        rates: book,
        lines: [sayLine(`A ${amount}`)],
        order: { payment: i + 1, spent: spentBy(before) },
      }),
    );
  });
  return done;
}
const earned = (rates: string[], amounts: string[]) => payments(rates, amounts).map((w) => w.total);

it('a cap counts once for all payments of an order', () => {
  expect(earned(['programme: 10 % | cap 10.00'], ['300.00'])).toEqual([1_000]);
  expect(earned(['programme: 10 % | cap 10.00'], ['100.00', '100.00', '100.00'])).toEqual([1_000, 0, 0]);
  expect(earned(['programme: 10 % | cap 10.00'], ['60.00', '60.00', '60.00'])).toEqual([600, 400, 0]);
  expect(earned(['programme: 2.00 flat a unit | cap 3.00'], ['50.00', '50.00'])).toEqual([200, 100]);
});

it('so do the caps of uplifts, up to and on top', () => {
  const upTo = ['programme: 20 %', 'uplift: up to 30 % | cap 2.00'];
  expect([earned(upTo, ['300.00']), earned(upTo, ['100.00', '100.00', '100.00'])]).toEqual([
    [6_200],
    [2_200, 2_000, 2_000],
  ]);
  const plus = ['programme: 10 % | cap 5.00', 'uplift: plus 10 % | cap 4.00'];
  expect(earned(plus, ['30.00', '30.00', '30.00'])).toEqual([600, 300, 0]);
});

it('a payment that earns nothing for it says so, and its working what earlier ones earned', () => {
  const [, second] = payments(['programme: 10 % | cap 10.00'], ['100.00', '100.00']);
  expect(second!.lines[0]).toMatchObject({
    reason: { code: 'cap-earned' },
    steps: { cap: { amount: 1_000, earlier: 1_000 } },
  });
});

it('what a refund took back is free again', () => {
  const [first] = payments(['programme: 10 % | cap 10.00'], ['100.00']);
  const spent = spentBy([{ working: first!.lines[0]!, left: 400 }]);
  expect(capLeft({ id: first!.lines[0]!.rateId!, cap: 1_000 }, spent)).toBe(600);
});

it('random orders: in however many payments, caps let through what they let through at once, and both ways of asking agree', () => {
  const random = new Seeded(17);
  const money = (most: number) => (random.whole(1, most) / 100).toFixed(2);
  for (let n = 0; n < 200; n += 1) {
    const cap = money(3_000);
    const rates = [`programme: ${random.whole(1, 60)} % | cap ${cap}`];
    const amounts = Array.from({ length: random.whole(2, 5) }, () => money(20_000));
    const done = payments(rates, amounts);
    const together = done.reduce((sum, w) => sum + w.total, 0);
    const whole = amounts.reduce((sum, a) => sum + Number(a), 0).toFixed(2);
    // each payment is rounded by itself
    expect(Math.abs(together - earned(rates, [whole])[0]!)).toBeLessThanOrEqual(amounts.length);
    expect(together).toBeLessThanOrEqual(Math.round(Number(cap) * 100));
    const book = buildBook(rates.map(say));
    let spent: ReadonlyMap<string, number> = new Map();
    amounts.forEach((amount, i) => {
      const order = { event: 'sale' as const, at: 1000, currency: 'EUR', base: 'EUR', rateMicros: 1_000_000 };
      const query = { ...order, payment: i + 1, lines: [sayLine(`A ${amount}`)], spent };
      const next = amountsAndCaps(book, plain, query);
      expect(next.amounts[0]).toBe(done[i]!.total);
      ({ spent } = next);
    });
  }
});
