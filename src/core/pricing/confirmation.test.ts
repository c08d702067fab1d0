import { describe, expect, it } from 'vitest';
import { confirmationOffers, type Offerable } from './confirmation';

const offerable = (code: string, more: Partial<Offerable> = {}): Offerable => ({
  code,
  onSale: true,
  confirmOffer: true,
  confirmNotAfter: [],
  sold: 0,
  ...more,
});
const codes = (products: Offerable[], ...bought: string[]) =>
  confirmationOffers(products, bought).map((p) => p.code);

describe('offers on the confirmation page', () => {
  it('leave out what was just bought, what is not offered there, and what is not on sale', () => {
    expect(
      codes(
        [
          offerable('ROLL'),
          offerable('APRON'),
          offerable('KILN', { confirmOffer: false }),
          offerable('SOON', { onSale: false }),
        ],
        'roll',
      ),
    ).toEqual(['APRON']);
  });
  it('leave out what is excluded after any of the things bought', () => {
    const roll = offerable('ROLL', { confirmNotAfter: ['KIT'] });
    expect([codes([roll], 'WHEEL'), codes([roll], 'WHEEL', ' kit ')]).toEqual([['ROLL'], []]);
  });
  it('are three at most, the best-selling first, and always in the same order', () => {
    expect(
      codes([
        offerable('D', { sold: 1 }),
        offerable('C', { sold: 9 }),
        offerable('B', { sold: 1 }),
        offerable('A', { sold: 1 }),
      ]),
    ).toEqual(['C', 'A', 'B']);
  });
});
