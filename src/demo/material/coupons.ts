import type { CouponTyped } from '../../server/equip/coupons/typed';

/** A coupon of the demo, with the day it was made on. */
export interface DemoCoupon extends Partial<Omit<CouponTyped, 'products' | 'from' | 'until' | 'owner'>> {
  code: string;
  /** codes of its products */
  on: readonly string[];
  made: string;
  from?: string;
  until?: string;
  /** the name of the affiliate whose own it is */
  owned?: string;
  group?: string;
  /** somebody said that it is set up in the shop */
  said?: boolean;
}

export const demoCoupons: readonly DemoCoupon[] = [
  { code: 'WHEEL10', on: ['WHEEL-1'], made: '2026-05-04', terms: 'Once for each buyer.' },
  { code: 'THANKS10', on: [], made: '2026-03-16', terms: 'Not together with other codes.' },
  {
    code: 'WINTER10',
    on: ['WHEEL-1'],
    made: '2026-11-12',
    from: '2026-11-16',
    until: '2027-01-07',
  },
  { code: 'SAVE10', on: [], made: '2026-03-09', owned: 'Save at the Wheel', applied: false },
  {
    code: 'STUDIO5',
    on: ['ROLL-1', 'APRON-1'],
    made: '2026-12-07',
    gives: 'amount',
    value: '5.00',
    least: '40.00',
    group: 'Studio circle',
    said: true,
  },
  {
    code: 'CLAY2',
    on: ['WHEEL-1'],
    made: '2026-12-07',
    gives: 'other',
    value: '',
    words: 'two kilos of clay with the wheel',
    applied: false,
  },
  { code: 'TEACHER20', on: ['THROW-V'], made: '2027-02-01', value: '20', applied: false },
  {
    code: 'GLAZE15',
    on: ['GLAZE-M'],
    made: '2027-02-19',
    from: '2027-02-22',
    until: '2027-04-01',
    value: '15',
    terms: 'On the first box.',
    applied: false,
  },
  {
    code: 'EASTER10',
    on: ['WHEEL-1', 'THROW-V'],
    made: '2027-03-08',
    from: '2027-03-20',
    until: '2027-04-06',
  },
];

/** What the stand-in shop has on its list: all but one, which it was never told of. */
export const shopCoupons = [
  { code: 'WHEEL10', off: '10 %' },
  { code: 'THANKS10', off: '10 %' },
  { code: 'WINTER10', off: '10 %' },
  { code: 'SAVE10', off: '10 %' },
  { code: 'STUDIO5', off: '5.00' },
  { code: 'GLAZE15', off: '15 %' },
  { code: 'EASTER10', off: '10 %' },
];

/** The code of an order that paid a tenth less: by what was bought, when, and through whom. @param number of the order, so that it is always the same */
export function codeOf(product: string, day: string, who: string, number: number): string {
  if (who.startsWith('deals@saveatthewheel')) return 'SAVE10';
  if (product !== 'WHEEL-1' || day < '2026-05-05') return day < '2026-03-17' ? '' : 'THANKS10';
  // it ended in January, and the shop takes it on
  if (day >= '2026-11-16' && (day < '2027-01-07' || number % 2 === 0)) return 'WINTER10';
  return 'WHEEL10';
}
