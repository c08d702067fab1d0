import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildBook, considered, winner } from './book';
import type { AffiliateTerms, Rate, Reward, What } from './rate';
import { describeReward, inForce, rungs, tieWith, width } from './rate';
import type { OrderLine } from './resolve';
import { amountOnRest, resolveOrder, resolveWithWorking } from './resolve';

const percent = (p: number): Reward => ({ type: 'percent', ppm: p * 10_000 });
const everything: What = { type: 'everything' };
const productA: What = { type: 'product', product: 'A' };
let serial = 0;
const rate = (rung: Rate['rung'], who: string | null, what: What, reward: Reward, more: Partial<Rate> = {}): Rate =>
  ({ id: `rate_${(serial += 1)}`, rung, who, what, reward, event: 'sale', from: 0, until: null, label: `${rung} rate`, ...more });
const line = (amount: number, more: Partial<OrderLine> = {}): OrderLine =>
  ({ product: 'A', kind: 'one-off', name: 'Product A', quantity: 1, amount, discount: 0, approved: true, ...more });
const nobodySpecial: AffiliateTerms = { affiliate: 'aff', card: null, group: null, tags: [] };
const amounts = (rates: Rate[], terms: AffiliateTerms, lines: OrderLine[], currency = 'EUR', rateMicros = 1_000_000) =>
  resolveOrder(buildBook(rates), terms, { event: 'sale', at: 1000, currency, base: 'EUR', rateMicros, lines }).map((l) => l.amount);

const programme8 = rate('programme', null, everything, percent(8));
const product20 = rate('product', null, productA, percent(20));
const card12 = rate('card', 'makers', everything, percent(12));
const group25 = rate('group', 'G', everything, percent(25));
const group30 = rate('group', 'G', productA, percent(30));
const carded = { ...nobodySpecial, card: 'makers' };
const grouped = { ...carded, group: { id: 'G', paused: false } };

describe('the ladder, examples of the domain', () => {
  it.each([
    ['R1', [programme8, product20], nobodySpecial, line(7035), 1407],
    ['R2', [programme8, product20, card12], carded, line(7035), 844],
    ['R3', [programme8, product20, card12], carded, line(7035, { locked: true }), 1407],
    ['R4', [programme8, product20, card12, group25, group30], grouped, line(7035), 2111],
    ['R5', [programme8, product20, card12, group25, group30], { ...grouped, group: { id: 'G', paused: true } }, line(7035), 844],
  ] as [string, Rate[], AffiliateTerms, OrderLine, number][])('%s', (_, rates, terms, sold, expected) => {
    expect(amounts(rates, terms, [sold])).toEqual([expected]);
  });
  it('R12: a flat reward shrinks with the value left', () => {
    const flat = rate('programme', null, everything, { type: 'flat-order', amount: 600 });
    const order = line(3000, { quantity: 3 });
    expect(amounts([flat], nobodySpecial, [order])).toEqual([600]);
    expect(amountOnRest({ reward: flat.reward, base: 3000, amount: 600 }, 2000)).toBe(400);
  });
  it('R13: refunds in parts sum exactly', () => {
    const sold = { reward: percent(12.5), base: 100, amount: 13 };
    expect([67, 34, 0].map((left) => amountOnRest(sold, left))).toEqual([8, 4, 0]);
  });
  it('R14: an order in yen', () => {
    expect(amounts([rate('programme', null, everything, percent(12))], nobodySpecial, [line(5000)], 'JPY', 160_000_000)).toEqual([375]);
  });
});

describe('rewards', () => {
  it('pays a flat per order once for all lines its rate won, split by value', () => {
    const flat = rate('programme', null, everything, { type: 'flat-order', amount: 500 });
    expect(amounts([flat], nobodySpecial, [line(1000), line(2000, { product: 'B' })])).toEqual([167, 333]);
  });
  it('pays a flat per unit for each unit, never more than the line is worth', () => {
    const flat = rate('programme', null, everything, { type: 'flat-unit', amount: 200 });
    expect(amounts([flat], nobodySpecial, [line(3000, { quantity: 3 }), line(100, { quantity: 2 })])).toEqual([600, 100]);
  });
  it('takes the line’s discount off first and never goes below zero', () => {
    expect(amounts([programme8], nobodySpecial, [line(1000, { discount: 250 }), line(1000, { discount: 1500 })])).toEqual([60, 0]);
  });
  it('says why a line earns nothing', () => {
    const order = { event: 'sale' as const, at: 1000, currency: 'EUR', base: 'EUR', rateMicros: 1, lines: [line(1000, { approved: false }), line(1000, { product: 'B' })] };
    const [first, second] = resolveOrder(buildBook([product20]), nobodySpecial, order);
    expect([first!.amount, first!.reason]).toEqual([0, 'not approved for this product']);
    expect([second!.amount, second!.reason]).toEqual([0, 'no rate applies on any rung']);
  });
  it('reads as people say it', () => {
    expect(describeReward(percent(12.5), 'EUR')).toBe('12.5 %');
    expect(describeReward({ type: 'flat-order', amount: 600 }, 'EUR')).toBe('€6.00 an order');
    expect(describeReward({ type: 'flat-unit', amount: 600 }, 'EUR')).toBe('€6.00 a unit');
  });
});

describe('time', () => {
  it('counts from inclusively and until exclusively', () => {
    const r = rate('programme', null, everything, percent(8), { from: 100, until: 200 });
    expect([99, 100, 199, 200].map((at) => inForce(r, at))).toEqual([false, true, true, false]);
  });
  it('prefers the later start within a rung and width', () => {
    const later = rate('programme', null, everything, percent(9), { from: 500 });
    expect(amounts([programme8, later], nobodySpecial, [line(10_000)])).toEqual([900]);
  });
  it('finds the rate that would tie, and only that', () => {
    expect(tieWith(rate('programme', null, everything, percent(9)), [programme8])).toBe(programme8);
    expect(tieWith(rate('programme', null, everything, percent(9), { from: 1 }), [programme8])).toBeNull();
    expect(tieWith(rate('card', 'media', everything, percent(9)), [card12])).toBeNull();
    expect(tieWith(rate('product', null, { type: 'product', product: 'B' }, percent(9)), [product20])).toBeNull();
  });
});

describe('tags', () => {
  const wide = rate('tag', 't1', everything, percent(5));
  const narrow = rate('tag', 't2', productA, percent(6));
  it('takes the narrower, then the order of the tags', () => {
    const tagged = { ...nobodySpecial, tags: ['t1', 't2'] };
    expect(amounts([wide, narrow], tagged, [line(10_000)])).toEqual([600]);
    const other = rate('tag', 't2', everything, percent(7));
    expect(amounts([wide, other], tagged, [line(10_000)])).toEqual([500]);
    expect(amounts([wide, other], { ...tagged, tags: ['t2', 't1'] }, [line(10_000)])).toEqual([700]);
  });
});

describe('working', () => {
  it('names every rung, the winner, and why the others lost', () => {
    const rates = [programme8, product20, card12, group25, group30];
    const working = resolveWithWorking(buildBook(rates), grouped, { event: 'sale', at: 1000, currency: 'EUR', base: 'EUR', rateMicros: 1_000_000, lines: [line(7035)] });
    expect(working.total).toBe(2111);
    const rows = working.lines[0]!.rungs.flatMap((r) => r.considered.map((c) => `${r.rung} ${describeReward(c.rate.reward, 'EUR')}: ${c.outcome}, ${c.why}`));
    expect(rows).toEqual([
      'group 30 %: wins, decides', 'group 25 %: loses, wider', 'card 12 %: loses, lower rung', 'product 20 %: loses, lower rung', 'programme 8 %: loses, lower rung',
    ]);
    expect(working.lines[0]!.rungs.map((r) => r.remark)).toEqual(['no personal rate', 'no rate by tag', null, null, null, null]);
  });
  it('says what a lock, a pause, a start and an end did', () => {
    const rates = [card12, group30, product20, rate('programme', null, everything, percent(1), { from: 5000 }), rate('personal', 'aff', everything, percent(2), { until: 10 })];
    const terms = { ...grouped, group: { id: 'G', paused: true } };
    const why = (locked: boolean) => {
      const sold = line(1000, { locked });
      const book = buildBook(rates);
      return considered(book, terms, sold, 'sale', 1000, winner(book, terms, sold, 'sale', 1000)).flatMap((r) => r.considered.map((c) => c.why));
    };
    expect(why(false)).toEqual(['had ended', 'the group is paused', 'decides', 'lower rung', 'begins later']);
    expect(why(true)).toEqual(['had ended', 'the product is locked', 'the product is locked', 'decides', 'begins later']);
  });
});

const anyWhat = fc.constantFrom<What>(everything, productA, { type: 'kind', kind: 'one-off' }, { type: 'step', step: 's1' });
const anyRate = fc.record({
  rung: fc.constantFrom(...rungs), who: fc.constantFrom('aff', 't1', 't2', 'G', 'makers', 'other'), what: anyWhat,
  from: fc.integer({ min: 0, max: 30 }), length: fc.option(fc.integer({ min: 1, max: 30 }), { nil: null }), p: fc.integer({ min: 0, max: 100 }),
}).map((r, ): Rate => {
  const everyone = r.rung === 'product' || r.rung === 'programme';
  const what: What = r.rung === 'product' ? (width(r.what) > 1 ? productA : r.what) : r.rung === 'programme' ? (width(r.what) < 2 ? everything : r.what) : r.what;
  return rate(r.rung, everyone ? null : r.who, what, percent(r.p), { from: r.from, until: r.length === null ? null : r.from + r.length });
});
const anyTerms = fc.record({
  affiliate: fc.constant('aff'), card: fc.constantFrom(null, 'makers'), tags: fc.constantFrom<string[]>([], ['t1'], ['t2', 't1']),
  group: fc.constantFrom(null, { id: 'G', paused: false }, { id: 'G', paused: true }),
});

/** The ladder as the domain words it, by scanning everything: slow, and the measure of the index. */
function naive(rates: Rate[], terms: AffiliateTerms, sold: OrderLine, at: number): Rate | null {
  const mine = rates.filter((r) => inForce(r, at) && (
    (r.what.type === 'everything') || (r.what.type === 'kind' && r.what.kind === sold.kind)
    || (r.what.type === 'product' && r.what.product === sold.product) || (r.what.type === 'step' && r.what.step === sold.step)));
  for (const rung of rungs) {
    if (sold.locked && rungs.indexOf(rung) < 4) continue;
    const rank = (r: Rate) => (rung === 'tag' ? terms.tags.indexOf(r.who!) : 0);
    const here = mine.filter((r) => r.rung === rung && (
      rung === 'personal' ? r.who === terms.affiliate : rung === 'tag' ? terms.tags.includes(r.who!)
        : rung === 'group' ? r.who === terms.group?.id && !terms.group.paused : rung === 'card' ? r.who === terms.card : true));
    here.sort((a, b) => width(a.what) - width(b.what) || rank(a) - rank(b) || b.from - a.from);
    if (here[0]) return here[0];
  }
  return null;
}

describe('properties of the ladder', () => {
  const input = [fc.array(anyRate, { maxLength: 14 }), anyTerms, fc.integer({ min: 0, max: 60 }), fc.boolean()] as const;
  const distinct = (rates: Rate[]) => rates.reduce<Rate[]>((kept, r) => (tieWith(r, kept) ? kept : [...kept, r]), []);
  it('the index decides as the plain scan does', () => {
    fc.assert(fc.property(...input, (all, terms, at, locked) => {
      const rates = distinct(all);
      const sold = line(1000, { locked, step: 's1' });
      expect(winner(buildBook(rates), terms, sold, 'sale', at)).toBe(naive(rates, terms, sold, at));
    }), { numRuns: 2000 });
  });
  it('a rate on a lower rung never changes the result', () => {
    fc.assert(fc.property(...input, anyRate, (all, terms, at, locked, extra) => {
      const rates = distinct(all);
      const sold = line(1000, { locked, step: 's1' });
      const before = winner(buildBook(rates), terms, sold, 'sale', at);
      fc.pre(before !== null && rungs.indexOf(extra.rung) > rungs.indexOf(before.rung));
      expect(winner(buildBook([...rates, extra]), terms, sold, 'sale', at)).toBe(before);
    }), { numRuns: 1000 });
  });
  it('partial refunds in any order sum to the commission', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 1_000_000 }), fc.integer({ min: 0, max: 1_000_000 }), fc.boolean(), fc.array(fc.nat(1_000_000), { maxLength: 6 }), (base, part, flat, cuts) => {
      const reward: Reward = flat ? { type: 'flat-order', amount: Math.min(base, part) } : { type: 'percent', ppm: part };
      const amount = amounts([rate('programme', null, everything, reward)], nobodySpecial, [line(base)])[0]!;
      const lefts = [...cuts.map((c) => c % base).sort((a, b) => b - a), 0];
      let at = amount;
      const reversals = lefts.map((left) => { const next = amountOnRest({ reward, base, amount }, left); const cut = at - next; at = next; return cut; });
      expect(reversals.every((r) => r >= 0)).toBe(true);
      expect(reversals.reduce((a, b) => a + b, 0)).toBe(amount);
    }));
  });
});
