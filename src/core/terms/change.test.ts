import fc from 'fast-check';
import { expect, it } from 'vitest';
import { resolved, say, sayLine } from '../../../tests/helpers/terms';
import type { Id } from '../text/id';
import { buildBook } from './book';
import { applyDraft, asIfAlways, type Change, type TermsData } from './draft';
import { buildRoll, isLocked, nobody, termsAt, type Memberships } from './members';
import { mostKept, rehearsal, type PastOrder } from './rehearse';
import { coOwnerShares, referralShare, sharedMeanwhile, sharesOf, sharesOnRest, worstCase } from './shares';

const memberships: Memberships = {
  members: [
    { affiliate: 'aff_mara', of: 'card', id: 'set_makers', from: 10, until: 50 },
    { affiliate: 'aff_mara', of: 'card', id: 'set_media', from: 50, until: null },
    { affiliate: 'aff_mara', of: 'group', id: 'set_studio', from: 20, until: 40 },
    { affiliate: 'aff_mara', of: 'tag', id: 'set_launch', from: 0, until: null },
    { affiliate: 'aff_mara', of: 'tag', id: 'set_early', from: 30, until: null },
  ],
  pauses: [{ group: 'set_studio', from: 25, until: 30 }],
  locks: [{ product: 'prd_kiln', event: 'sale', from: 5, until: 15 }],
  tagOrders: [
    { from: 0, tags: ['set_launch', 'set_early'] },
    { from: 60, tags: ['set_early', 'set_launch'] },
  ],
  defaultCard: 'set_plain',
};
const roll = buildRoll(memberships);
it('who belongs where, as of a day: takes card, group and tags of the moment', () => {
  expect(termsAt(roll, 'aff_mara', 9)).toEqual({
    affiliate: 'aff_mara',
    card: 'set_plain',
    group: null,
    tags: ['set_launch'],
  });
  expect(termsAt(roll, 'aff_mara', 20)).toEqual({
    affiliate: 'aff_mara',
    card: 'set_makers',
    group: { id: 'set_studio', paused: false },
    tags: ['set_launch'],
  });
  expect(termsAt(roll, 'aff_mara', 40)).toEqual({
    affiliate: 'aff_mara',
    card: 'set_makers',
    group: null,
    tags: ['set_launch', 'set_early'],
  });
  expect([49, 50].map((at) => termsAt(roll, 'aff_mara', at).card)).toEqual(['set_makers', 'set_media']);
  expect(termsAt(roll, 'aff_nobody', 20)).toEqual({
    affiliate: 'aff_nobody',
    card: 'set_plain',
    group: null,
    tags: [],
  });
});
it('who belongs where, as of a day: knows when a group was paused and a product locked', () => {
  expect([24, 25, 29, 30].map((at) => termsAt(roll, 'aff_mara', at).group?.paused)).toEqual([
    false,
    true,
    true,
    false,
  ]);
  expect([4, 5, 14, 15].map((at) => isLocked(roll, 'prd_kiln', 'sale', at))).toEqual([
    false,
    true,
    true,
    false,
  ]);
  expect([isLocked(roll, 'prd_kiln', 'renewal', 10), isLocked(roll, 'wheel', 'sale', 10)]).toEqual([
    false,
    false,
  ]);
});
it('who belongs where, as of a day: orders tags as the merchant did at the moment', () => {
  expect([59, 60].map((at) => termsAt(roll, 'aff_mara', at).tags)).toEqual([
    ['set_launch', 'set_early'],
    ['set_early', 'set_launch'],
  ]);
});

it('shares: a referral earns of the sale or of the commission', () => {
  expect(referralShare(10_000, 1200, { ppm: 20_000, of: 'sale' })).toBe(200);
  expect(referralShare(10_000, 1200, { ppm: 100_000, of: 'commission' })).toBe(120);
  expect(referralShare(1000, 950, { ppm: 100_000, of: 'sale' })).toBe(50);
});
it('shares: co-owners share what is left after commission and referral', () => {
  expect(coOwnerShares(10_000, 1200, 200, [500_000, 250_000])).toEqual([4300, 2150]);
  expect(() => coOwnerShares(10_000, 0, 0, [600_000, 500_000])).toThrow('more than 100 %');
});
it('shares: together never exceed the value', () => {
  fc.assert(
    fc.property(
      fc.record({
        base: fc.nat(100_000),
        c: fc.nat(1_000_000),
        r: fc.nat(1_000_000),
        of: fc.constantFrom('sale', 'commission'),
        owners: fc.array(fc.nat(250_000), { maxLength: 4 }),
      }),
      ({ base, c, r, of: basis, owners }) => {
        const commission = Math.floor((base * c) / 1_000_000);
        const referral = referralShare(base, commission, { ppm: r, of: basis });
        const parts = coOwnerShares(base, commission, referral, owners);
        expect([commission, referral, ...parts].every((x) => x >= 0)).toBe(true);
        expect(commission + referral + parts.reduce((a, b) => a + b, 0)).toBeLessThanOrEqual(base);
      },
    ),
  );
});
it('shares: while a lower one waits, of each co-owner the larger counts', () => {
  const [ada, bo] = ['aff_ada', 'aff_bo'] as const;
  const current = [
    { payee: ada, ppm: 600_000 },
    { payee: bo, ppm: 400_000 },
  ];
  const next = (...shares: [string, number][]) => sharedMeanwhile(current, new Map(shares));
  expect(next([ada, 300_000], [bo, 700_000])).toBe(1_300_000);
  expect(next([ada, 300_000], [bo, 400_000])).toBe(1_000_000);
  expect(next([bo, 400_000], ['aff_cy', 100_000])).toBe(1_100_000);
});
it('shares: a lead has no value to share', () => {
  expect(referralShare(0, 40, { ppm: 100_000, of: 'commission' })).toBe(0);
});
it('shares: says of what each is a percent, the referral first, the co-owners of what it leaves', () => {
  const ever = { from: 0, until: null };
  const shares = sharesOf(
    8900,
    2670,
    { affiliate: 'aff_marta', by: 'aff_loam', ppm: 100_000, of: 'commission', ...ever },
    [
      { product: 'prd_course', payee: 'aff_ada', ppm: 250_000, ...ever },
      { product: 'prd_course', payee: 'aff_bo', ppm: 50_000, ...ever },
    ],
  );
  expect(shares.map((s) => [s.payee, s.of, s.basis, s.amount])).toEqual([
    ['aff_loam', 'commission', 2670, 267],
    ['aff_ada', 'rest', 5963, 1491],
    ['aff_bo', 'rest', 5963, 298],
  ]);
});
it('shares: are reversed in the proportion of the value, in any parts, to the cent', () => {
  expect(sharesOnRest([267, 1491], 8900, 4450, 1335)).toEqual([134, 746]);
  expect(sharesOnRest([267, 1491], 8900, 0, 0)).toEqual([0, 0]);
  expect(sharesOnRest([5], 0, 0, 0)).toEqual([0]);
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 100_000 }),
      fc.nat(1_000_000),
      fc.array(fc.nat(300_000), { maxLength: 3 }),
      fc.nat(100_000),
      (base, c, owners, give) => {
        const commission = Math.floor((base * c) / 1_000_000);
        const amounts = coOwnerShares(base, commission, 0, owners);
        const left = Math.max(0, base - give);
        const commissionLeft = Math.min(left, Math.round((commission * left) / base));
        const rest = sharesOnRest(amounts, base, left, commissionLeft);
        expect(commissionLeft + rest.reduce((a, b) => a + b, 0)).toBeLessThanOrEqual(left);
        expect(sharesOnRest(amounts, base, base, commission)).toEqual(amounts);
        expect(rest.every((r, i) => r >= 0 && r <= amounts[i]!)).toBe(true);
      },
    ),
  );
});
it('shares: the worst case is the highest rate, the uplift that raises it most and the referral share', () => {
  const rates = [
    'programme: 8 %',
    'product A: 60 %',
    'group G on A: 70 %',
    'product B: 95 %',
    'uplift: plus 25 %',
    'uplift: up to 90 %',
    'personal: 99 % | until 500',
  ].map(say);
  const worst = worstCase(rates, {
    sold: { product: 'prd_A', kind: 'one-off' },
    price: 10_000,
    referral: { ppm: 60_000, of: 'sale' },
    now: 1000,
  });
  expect([worst.total, worst.rate!.label, worst.uplift!.label]).toEqual([
    1_010_000,
    'group G on A',
    'uplift',
  ]);
  expect(
    worstCase(rates, {
      sold: { product: 'prd_A', kind: 'one-off' },
      price: 10_000,
      referral: { ppm: 100_000, of: 'commission' },
      now: 1000,
    }).total,
  ).toBe(1_045_000);
  expect(
    worstCase([say('programme: 30.00 flat')], {
      sold: { product: 'prd_A', kind: 'one-off' },
      price: 10_000,
      referral: null,
      now: 0,
    }).total,
  ).toBe(300_000);
});

const terms = (rates: string[], more: Partial<Memberships> = {}): TermsData => ({
  ...nobody,
  ...more,
  rates: rates.map(say),
});

it('a draft: ends the open rate whose place it takes, from its start, and no other', () => {
  const before = terms(['programme: 8 %', 'product A: 20 %', 'programme: 9 % | from 50 | until 60']);
  const after = applyDraft(before, [{ op: 'add', rate: say('programme: 10 % | from 100') }]);
  expect(after.rates.map((r) => r.until)).toEqual([100, null, 60, null]);
  expect(before.rates[0]!.until).toBeNull();
});
it('a draft: leaves the open rate running beneath one with an end', () => {
  expect(
    applyDraft(terms(['programme: 8 %']), [
      { op: 'add', rate: say('programme: 10 % | from 100 | until 200') },
    ]).rates.map((r) => r.until),
  ).toEqual([null, 200]);
});
it('a draft: ends a rate, and switches locks and pauses from a moment', () => {
  const before = terms(['programme: 8 %']);
  const changes: Change[] = [
    { op: 'end', id: before.rates[0]!.id, at: 40 },
    { op: 'lock', product: 'prd_A', event: 'sale', on: true, at: 30 },
    { op: 'pause', group: 'set_G', on: true, at: 20 },
  ];
  const after = applyDraft(before, changes);
  expect([after.rates[0]!.until, after.locks, after.pauses]).toEqual([
    40,
    [{ product: 'prd_A', event: 'sale', from: 30, until: null }],
    [{ group: 'set_G', from: 20, until: null }],
  ]);
  const back = applyDraft(after, [
    { op: 'lock', product: 'prd_A', event: 'sale', on: false, at: 90 },
    { op: 'pause', group: 'set_G', on: false, at: 80 },
  ]);
  expect([back.locks[0]!.until, back.pauses[0]!.until]).toEqual([90, 80]);
});
it('a draft: for some payments leaves a rate that reaches further running, and the later start decides between them', () => {
  const before = terms(['product S renewal 2–6 then nothing: 10 %']);
  const added = say('product S renewal 7–12 then nothing: 5 % | from 100');
  const after = applyDraft(before, [{ op: 'add', rate: added }]);
  expect(after.rates.map((r) => r.until)).toEqual([null, null]);
  const pays = (data: TermsData, payment: number) =>
    resolved({ rates: [...data.rates], lines: [sayLine('S 100.00')], order: { event: 'renewal', payment } })
      .total;
  expect([2, 6, 7, 12, 13].map((n) => pays(after, n))).toEqual([1000, 1000, 500, 500, 0]);
  expect([2, 6, 7, 12, 13].map((n) => pays(asIfAlways(before, [{ op: 'add', rate: added }]), n))).toEqual([
    1000, 1000, 500, 500, 0,
  ]);
  // one for every payment takes the place of both
  expect(
    applyDraft(after, [{ op: 'add', rate: say('product S renewal: 8 % | from 200') }]).rates.map(
      (r) => r.until,
    ),
  ).toEqual([200, 200, null]);
});
it('a draft: in the middle of a range leaves what is before and after it, in a replay too', () => {
  const before = terms(['product S renewal: 10 %']);
  const changes: Change[] = [{ op: 'add', rate: say('product S renewal 4–5 then next: 20 % | from 100') }];
  const pays = (data: TermsData, payment: number) =>
    resolved({ rates: [...data.rates], lines: [sayLine('S 100.00')], order: { event: 'renewal', payment } })
      .total;
  for (const data of [applyDraft(before, changes), asIfAlways(before, changes)])
    expect([2, 3, 4, 5, 6, 90].map((n) => pays(data, n))).toEqual([1000, 1000, 2000, 2000, 1000, 1000]);
});
it('a draft: stands alone in its place when the past is replayed under it', () => {
  const always = asIfAlways(terms(['programme: 8 %', 'programme: 9 % | from 50', 'product A: 20 %']), [
    { op: 'add', rate: say('programme: 10 % | from 900 | until 950') },
  ]);
  expect(always.rates.map((r) => [r.label, r.from, r.until])).toEqual([
    ['product A', 0, null],
    ['programme', 0, null],
  ]);
});

const order = (
  id: Id<'order'>,
  affiliate: Id<'affiliate'>,
  at: number,
  ...lines: [text: string, stored: number][]
): PastOrder => ({
  id,
  affiliate,
  event: 'sale',
  payment: 1,
  at,
  currency: 'EUR',
  rateMicros: 1_000_000,
  lines: lines.map(([text, stored]) => {
    const l = sayLine(text);
    return {
      product: l.product as Id<'product'>,
      name: l.name,
      kind: l.kind,
      step: null,
      quantity: l.quantity,
      amount: l.amount,
      discount: l.discount,
      approved: l.approved,
      stored,
    };
  }),
});
const members: Pick<TermsData, 'members'> = {
  members: [{ affiliate: 'aff_mara', of: 'group', id: 'set_G', from: 0, until: null }],
};
const past = terms(['programme: 8 %', 'group G: 10 %'], members);
const replay = (changes: Change[], orders: PastOrder[]) => {
  const under = asIfAlways(past, changes);
  const run = rehearsal(buildBook(under.rates), buildRoll(under), 'EUR');
  orders.forEach((o) => run.take(o));
  return run.result();
};
const orders = [
  order('ord_o1', 'aff_mara', 10, ['A 100.00', 1000]),
  order('ord_o2', 'aff_iris', 20, ['A 50.00', 400]),
  order('ord_o3', 'aff_mara', 30, ['A 20.00', 200], ['B 30.00', 300]),
];
it('a rehearsal: under no change finds nothing', () => {
  const result = replay([], orders);
  expect([result.changed, result.total]).toEqual([0, { lines: 4, stored: 1900, drafted: 1900 }]);
});
it('a rehearsal: sums what a raise for one group would have cost, by product and affiliate', () => {
  const result = replay([{ op: 'add', rate: say('group G on A: 14 % | from 9000') }], orders);
  expect(result.total).toEqual({ lines: 4, stored: 1900, drafted: 2380 });
  expect(Object.fromEntries(result.products)).toEqual({
    prd_A: { lines: 3, stored: 1600, drafted: 2080 },
    prd_B: { lines: 1, stored: 300, drafted: 300 },
  });
  expect(result.affiliates.get('aff_iris')).toEqual({ lines: 1, stored: 400, drafted: 400 });
  expect(result.most.map((m) => [m.order, m.position, m.stored, m.drafted])).toEqual([
    ['ord_o1', 0, 1000, 1400],
    ['ord_o3', 0, 200, 280],
  ]);
});
it('a rehearsal: replays a pause and a lock', () => {
  expect(replay([{ op: 'pause', group: 'set_G', on: true, at: 9000 }], orders).total.drafted).toBe(
    800 + 400 + 160 + 240,
  );
  expect(
    replay([{ op: 'lock', product: 'prd_B', event: 'sale', on: true, at: 9000 }], orders).total.drafted,
  ).toBe(1000 + 400 + 200 + 240);
});
it('a rehearsal: keeps the lines that change most, however many change', () => {
  const many = Array.from({ length: 400 }, (_, i) =>
    order(`ord_${i}`, 'aff_mara', 10, [`A ${i + 1}.00`, (i + 1) * 10]),
  );
  const result = replay([{ op: 'add', rate: say('group G: 20 % | from 9000') }], many);
  expect(result.changed).toBe(400);
  expect(result.most.map((m) => m.order)).toEqual(
    Array.from({ length: mostKept }, (_, i) => `ord_${399 - i}`),
  );
});
