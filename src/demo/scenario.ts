import type { ProductIn } from '../contract/setup/products';

/** Quernstone Clayworks, a made-up pottery supplier. All addresses end in .example; bank numbers are valid in form only. */
export const merchant = {
  merchant: 'Quernstone Clayworks',
  contact: 'hello@quernstone.example',
  currency: 'EUR',
  zone: 'Europe/Lisbon',
  owner: 'Inês Falcão',
  email: 'ines@quernstone.example',
};
export const intro =
  'Tools, kilns and courses for people who make pots at home. We pay for every sale that a visitor from you brings, {rate WHEEL-1} on the wheel and {rate THROW-V} on the course, and we show the working of every amount.';
export const summary =
  'A pottery supplier in a small town, selling to kitchens and studios everywhere. A visit earns for {window}.';
/** Where its sales pages are: a made-up host that the shop stand-in plays. */
export const shopHost = 'https://shop.quernstone.example';

export const demoPassword = 'quernstone clay';
export const colleagues = [
  { name: 'Rui Sardinha', email: 'rui@quernstone.example', role: 'manager' },
  { name: 'Lena Brandvold', email: 'lena@quernstone.example', role: 'finance' },
  { name: 'Tom Ashgrove', email: 'tom@quernstone.example', role: 'viewer' },
] as const;
/** The demo's key for reports; it exists in demo data only, and docs/connecting-a-shop.md prints it. */
export const demoKey = { id: 'demo-shop', secret: 'whsec_cXVlcm5zdG9uZS1kZW1vLXNob3Atc2VjcmV0' };
export const account = { debtorName: 'Quernstone Clayworks', debtorIban: 'PT50000201231234567890154' };

export const from = '2026-01-12';
export const today = '2027-03-12';

export interface DemoProduct {
  code: string;
  name: string;
  description: string;
  price: string;
  refundDays: number;
  rewardKind: 'percent' | 'flat' | 'none';
  reward: string;
  weight: number;
  conversion: number;
  refunds: number;
  more?: Partial<ProductIn>;
}
export const demoProducts: DemoProduct[] = [
  {
    code: 'WHEEL-1',
    name: 'Table-top wheel kit',
    description: 'A quiet wheel for the kitchen table, with splash pan, two bats and a foot pedal.',
    price: '199.00',
    refundDays: 14,
    rewardKind: 'percent',
    reward: '12',
    weight: 30,
    conversion: 0.03,
    refunds: 0.07,
    more: {
      delivery: 'shipped',
      stock: '900',
      prices: { USD: '219.00', GBP: '175.00', JPY: '32000' },
      categories: 'craft, pottery',
      supportAddress: 'help@quernstone.example',
    },
  },
  {
    code: 'THROW-V',
    name: 'Throwing course',
    description: 'Twelve films from wedging to handles, to watch as often as you like.',
    price: '89.00',
    refundDays: 30,
    rewardKind: 'percent',
    reward: '30',
    weight: 34,
    conversion: 0.038,
    refunds: 0.05,
    more: {
      delivery: 'access',
      accessPage: 'https://shop.quernstone.example/open/course',
      accessParameters: 'order, email',
      prices: { USD: '99.00', GBP: '79.00', JPY: '14500' },
    },
  },
  {
    code: 'KILN-S',
    name: 'Small kiln',
    description: 'Eighteen litres, an ordinary socket, 1,240 degrees.',
    price: '890.00',
    refundDays: 21,
    rewardKind: 'percent',
    reward: '3',
    weight: 9,
    conversion: 0.009,
    refunds: 0.06,
  },
  {
    code: 'ROLL-1',
    name: 'Tool roll',
    description: 'Nine tools in waxed canvas.',
    price: '38.50',
    refundDays: 14,
    rewardKind: 'flat',
    reward: '5.00',
    weight: 16,
    conversion: 0.045,
    refunds: 0.03,
    more: { delivery: 'shipped', step: '0.50', stepEvery: '60', stepCeiling: '44.00', confirmOffer: true },
  },
  {
    code: 'APRON-1',
    name: 'Split apron',
    description: 'Heavy linen with a split, so that it stays on the knees at the wheel.',
    price: '46.00',
    refundDays: 14,
    rewardKind: 'none',
    reward: '',
    weight: 11,
    conversion: 0.04,
    refunds: 0.04,
    more: { confirmOffer: true },
  },
  {
    code: 'GLAZE-M',
    name: 'Glaze subscription box',
    description: 'Three glazes a month with test tiles; the first box is a taste.',
    price: '5.00',
    refundDays: 14,
    rewardKind: 'flat',
    reward: '4.00',
    weight: 12,
    conversion: 0.028,
    refunds: 0.04,
    more: {
      kind: 'recurring',
      renewalPrice: '24.00',
      interval: 'month',
      trialDays: 14,
      renewalName: 'Glaze box',
      renewalAbout: 'Three glazes with their test tiles, another family each month.',
      noticeDays: 3,
      renewalRewardKind: 'percent',
      renewalReward: '10',
      delivery: 'shipped',
    },
  },
  {
    code: 'PLAN-Y',
    name: 'Studio planner',
    description: 'A year of firings, classes and fairs on paper, sent anew each autumn.',
    price: '29.00',
    refundDays: 14,
    rewardKind: 'percent',
    reward: '20',
    weight: 7,
    conversion: 0.03,
    refunds: 0.03,
    more: {
      kind: 'recurring',
      renewalPrice: '27.00',
      interval: 'year',
      renewals: '4',
      noticeDays: 14,
      renewalRewardKind: 'percent',
      renewalReward: '8',
      delivery: 'shipped',
    },
  },
  {
    code: 'CALC-0',
    name: 'Glaze calculator',
    description: 'Works a recipe out for any batch; free for an e-mail address.',
    price: '',
    refundDays: 0,
    rewardKind: 'flat',
    reward: '0.40',
    weight: 12,
    conversion: 0.16,
    refunds: 0,
    more: { kind: 'free', delivery: 'file', downloadDays: 14, confirmOffer: true },
  },
];
/** Follow-on offers, and how often each is taken. */
export const demoFunnels = [
  {
    name: 'After the wheel',
    opening: 'WHEEL-1',
    steps: [
      { code: 'wheel-roll', product: 'ROLL-1', price: '32.00', taken: 0.22 },
      { code: 'wheel-apron', product: 'APRON-1', price: '', taken: 0.13 },
    ],
  },
  {
    name: 'After the course',
    opening: 'THROW-V',
    steps: [{ code: 'course-planner', product: 'PLAN-Y', price: '19.00', taken: 0.1 }],
  },
];
/** Rules that were drafted and not switched on yet. */
export const rules = [
  {
    conditions: { note: true, original: false },
    outcome: {
      do: 'decline' as const,
      reason: 'Your note stands word for word in other applications; write to us in your own words',
    },
  },
  {
    conditions: { note: true, original: true, countryNotIn: ['CY'] },
    outcome: { do: 'approve' as const, timing: 'after-hold' as const },
  },
];
/** What everybody who leaves an address gets. */
export const calculator = {
  name: 'glaze-calculator.csv',
  content: 'oxide,parts\nsilica,60\nalumina,12\ncalcia,18\nsoda,10\n',
};
/** What buyers read. */
export const buyers = {
  brand: 'Quernstone Clayworks',
  supportAddress: 'help@quernstone.example',
  supportPage: 'https://shop.quernstone.example/help',
  supportPhone: '+351 285 000 120',
};
/** Who made the course with the merchant, and its part of what each sale leaves. */
export const coOwner = {
  name: 'Ada Birkeland',
  email: 'ada@birkeland-pots.example',
  country: 'NO',
  product: 'THROW-V',
  percent: '25',
  day: '2026-06-01',
};
/** What bringing somebody in earns, from this day on. */
export const referral = { day: '2026-02-01', percent: '10', of: 'commission', months: '24' } as const;
/** What the course pays from this day on. */
export const courseRaise = { day: '2027-03-01', reward: '35' };
/** One euro buys, on the first of each month. */
export const exchange: Record<string, string[]> = {
  USD: [
    '1.08',
    '1.083',
    '1.089',
    '1.096',
    '1.106',
    '1.112',
    '1.122',
    '1.111',
    '1.11',
    '1.121',
    '1.124',
    '1.134',
    '1.125',
    '1.124',
    '1.118',
  ],
  GBP: [
    '0.86',
    '0.861',
    '0.855',
    '0.852',
    '0.849',
    '0.854',
    '0.857',
    '0.853',
    '0.857',
    '0.852',
    '0.854',
    '0.849',
    '0.843',
    '0.848',
    '0.844',
  ],
  JPY: [
    '161.5',
    '163.24',
    '164.58',
    '163.82',
    '165.48',
    '165.62',
    '166.26',
    '165.2',
    '166.79',
    '167.47',
    '169.15',
    '170.57',
    '169.85',
    '169.35',
    '168.14',
  ],
};
export const exchangeDays = [
  '2026-01-01',
  '2026-02-01',
  '2026-03-01',
  '2026-04-01',
  '2026-05-01',
  '2026-06-01',
  '2026-07-01',
  '2026-08-01',
  '2026-09-01',
  '2026-10-01',
  '2026-11-01',
  '2026-12-01',
  '2027-01-01',
  '2027-02-01',
  '2027-03-01',
];
