import { describe, expect, it } from 'vitest';
import { misfitOf, misfitsOfPayment, type Agreed, type FurtherPayment } from './misfit';

it.each([
  [9900, 9900, ''],
  [29_700, 9900, '€297.00 is the price of 3 units, €99.00 each; a picture reports one'],
  [100, 9900, '€1.00 is less than the price, €99.00'],
  [10_000, 9900, '€100.00 is more than the price, €99.00'],
  [100, null, 'The product has no price in EUR'],
  [100, 0, '€1.00 is more than the price, €0.00'],
  [0, 0, ''],
] as const)('%i at a price of %s: “%s”', (amount, price, words) => {
  expect(misfitOf(amount, price, 'EUR')).toBe(words);
});

describe('a further payment', () => {
  const day = 86_400_000;
  const startedAt = Date.parse('2027-03-05T10:00:00Z');
  const agreed = (fields: Partial<Agreed>): Agreed => ({
    ...{ kind: 'instalments', price: 30_000, currency: 'EUR', startedAt, firstPaid: 10_000 },
    details: { renewals: null, renewalPrice: null, instalments: 3 },
    ...fields,
  });
  const paid = (number: number, fields: Partial<FurtherPayment> = {}): FurtherPayment => ({
    ...{ number, placedAt: startedAt + 30 * day, quantity: 1, amount: 10_000 },
    ...fields,
  });
  const misfit = (fields: Partial<Agreed>, payment: FurtherPayment) =>
    misfitsOfPayment(agreed(fields), payment, 'Europe/Lisbon')
      .map(({ why }) => why)
      .join('; ');
  const box = { kind: 'recurring', details: { renewals: 3, renewalPrice: 2_400, instalments: 3 } } as const;

  it('fits where it is one of those that were agreed', () => {
    expect([misfit({}, paid(2)), misfit({}, paid(3)), misfit(box, paid(4))]).toEqual(['', '', '']);
    expect(misfit({ ...box, details: { ...box.details, renewals: null } }, paid(90))).toBe('');
    expect(misfit({ kind: 'one-off' }, paid(9))).toBe('');
  });
  it('beyond the last is named', () => {
    expect(misfit({}, paid(4))).toBe('Payment 4 of 3: the product is paid in 3 instalments');
    expect(misfit(box, paid(13))).toBe('Payment 13 of 4: the subscription ends after 3 renewals');
  });
  it('before the first is named, to the second', () => {
    expect(misfit({}, paid(2, { placedAt: startedAt - 2 * day }))).toBe(
      'It was paid on 3 Mar 2027, before the first payment on 5 Mar 2027',
    );
    expect(misfit({}, paid(2, { placedAt: startedAt + 200 }))).toBe('');
  });
  it('an instalment at the full price is named, also where the first was reported so', () => {
    const words = '€300.00 is more than instalment 2 of 3, €100.00';
    expect(misfit({}, paid(2, { amount: 30_000 }))).toBe(words);
    expect(misfit({ firstPaid: 30_000 }, paid(2, { amount: 30_000 }))).toBe(words);
    expect(misfit({}, paid(2, { amount: 20_000, quantity: 2 }))).toBe('');
  });
  it('as the first was fits, also after the price was lowered; in another currency nothing is compared', () => {
    expect(misfit({ price: 24_000 }, paid(2))).toBe('');
    expect(misfit({}, paid(2, { amount: null }))).toBe('');
  });
  it('all that does not fit is named', () => {
    const early = paid(3, { placedAt: startedAt - day, amount: 30_000 });
    const fields = misfitsOfPayment(agreed({}), early, 'Europe/Lisbon').map(({ field }) => field);
    expect(fields).toEqual(['placedAt', 'lines']);
  });
});
