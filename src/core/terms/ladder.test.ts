import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plain, rate, resolved, say, sayLine, sayTerms } from '../../../tests/helpers/terms';
import { buildBook, winner, type Question } from './book';
import { faultsOf, tieWith } from './conflict';
import { amountOnRest, amountsOnRest, type EarningLine } from './earned';
import { type OrderLine } from './order';
import { presentLines } from './present';
import {
  covers,
  describeRate,
  describeReward,
  fitOf,
  inForce,
  rungs,
  width,
  type AffiliateTerms,
  type Rate,
  type Sold,
} from './rate';
import { amountsOf, resolveOrder } from './resolve';

const worded = (rates: string[], terms: string, line: string, order = {}) =>
  resolved({ rates: rates.map(say), terms: sayTerms(terms), lines: [sayLine(line)], order });
const whys = (...of: Parameters<typeof worded>) =>
  worded(...of).lines[0]!.rungs.flatMap((r) =>
    r.considered.map((c) => `${r.rung} ${describeReward(c.rate.reward, 'EUR')}: ${c.outcome}, ${c.why}`),
  );

describe('the working', () => {
  it('names every rung, the winner, and why the others lost', () => {
    expect(
      whys(
        ['programme: 8 %', 'product A: 20 %', 'card makers: 12 %', 'group G: 25 %', 'group G on A: 30 %'],
        'card makers, group G',
        'A 70.35',
      ),
    ).toEqual([
      'group 30 %: wins, decides',
      'group 25 %: loses, wider',
      'card 12 %: loses, lower rung',
      'product 20 %: loses, lower rung',
      'programme 8 %: loses, lower rung',
    ]);
    expect(worded(['programme: 8 %'], '', 'A 1.00').lines[0]!.rungs.map((r) => r.remark)).toEqual([
      'no personal rate',
      'no rate by tag',
      'in no group with a rate',
      'no rate on the card',
      'none for this product',
      null,
    ]);
  });
  it('says what a lock, a pause, a start and an end did', () => {
    const rates = [
      'card makers: 12 %',
      'group G on A: 30 %',
      'product A: 20 %',
      'programme: 1 % | from 5000',
      'personal: 2 % | until 10',
    ];
    expect(whys(rates, 'card makers, group G paused', 'A 10.00').map((w) => w.split(', ')[1])).toEqual([
      'had ended',
      'the group is paused',
      'decides',
      'lower rung',
      'begins later',
    ]);
    expect(whys(rates, 'card makers, group G', 'A 10.00 locked').map((w) => w.split(', ')[1])).toEqual([
      'had ended',
      'the product is locked',
      'the product is locked',
      'decides',
      'begins later',
    ]);
  });
  it('says which payments and which order value a rate asks for', () => {
    expect(
      whys(['product S renewal 2–6 then next: 10 %', 'programme renewal: 3 %'], '', 'S 24.00', {
        event: 'renewal',
        payment: 7,
      }),
    ).toEqual([
      'product 10 %: does-not-apply, payments 2–6; this is payment 7',
      'programme 3 %: wins, decides',
    ]);
    expect(whys(['personal: from 60.00 10 %', 'programme: 8 %'], '', 'A 48.00')[0]).toBe(
      'personal from €60.00 10 %: does-not-apply, the order’s €48.00 is below its lowest band',
    );
  });
  it('says why an uplift counted or not', () => {
    const of = (rates: string[], terms: string, line: string) =>
      worded(rates, terms, line).lines[0]!.uplifts!.map((u) => `${u.outcome}, ${u.why}`);
    expect(of(['programme: 8 %', 'uplift: up to 15 %', 'uplift: plus 1 %'], '', 'A 100.00')).toEqual([
      'loses, another uplift is better; two do not add up',
      'wins, raises it',
    ]);
    expect(of(['programme: 20 %', 'uplift: up to 15 %'], '', 'A 100.00')).toEqual([
      'loses, raises nothing here',
    ]);
    expect(of(['programme: 8 %', 'uplift: up to 15 %'], '', 'A 100.00 locked')).toEqual([
      'does-not-apply, the product is locked',
    ]);
    expect(
      of(
        ['programme: 8 %', 'uplift group G: up to 15 %', 'uplift group H: up to 15 %'],
        'group G paused',
        'A 100.00',
      ),
    ).toEqual(['does-not-apply, the group is paused']);
  });
  it('adds up by hand: band, cap, uplift', () => {
    const working = worded(
      ['personal: from 60.00 10 % | cap 8.00', 'uplift: plus 1.00 flat'],
      '',
      'A 110.00 − 10.00',
    );
    expect(presentLines(working)[0]!.sums.map((s) => `${s.label} | ${s.figure}`)).toEqual([
      'Price paid | €110.00',
      'Discount | −€10.00',
      'Commissionable | €100.00',
      'Band from €60.00, reached by the order’s €100.00 | ',
      '× 10 %, rounded | €10.00',
      'Cap of €8.00 an order, reached | −€2.00',
      'Uplift uplift: plus €1.00 an order | €1.00',
      'Commission | €9.00',
    ]);
  });
  it('adds a plus in percent to the percent that decided, and says which was applied', () => {
    const sums = (rates: string[], ...lines: string[]) =>
      presentLines(resolved({ rates: rates.map(say), lines: lines.map((l) => sayLine(l)) }))[0]!
        .sums.slice(2)
        .map((s) => `${s.label} | ${s.figure}`);
    expect(sums(['programme: 8.5 %', 'uplift: plus 1.5 %'], 'A 0.25')).toEqual([
      '× 10 %, rounded (8.5 % and Uplift uplift: plus 1.5 %) | €0.03',
      'Commission | €0.03',
    ]);
    expect(sums(['programme: 10 %', 'uplift: up to 15 %'], 'A 100.00')).toEqual([
      '× 10 %, rounded | €10.00',
      'Uplift uplift: up to 15 %, that is €15.00 | €5.00',
      'Commission | €15.00',
    ]);
    expect(sums(['programme: 10 %', 'uplift: plus 50 % | cap 1.00'], 'A 100.00', 'B 300.00')).toEqual([
      '× 10 %, rounded | €10.00',
      'Uplift uplift: plus 50 %, at most €1.00 an order, this line’s share of it | €0.25',
      'Commission | €10.25',
    ]);
    expect(sums(['programme: 60.00 flat'], 'A 48.00')).toEqual([
      '€60.00 an order | €60.00',
      'Limited to what the line is worth | −€12.00',
      'Uplift: none on this day | —',
      'Commission | €48.00',
    ]);
    expect(sums(['programme: 10 % | cap 8.00'], 'A 80.00')).toContain(
      'Cap of €8.00 an order, just reached | —',
    );
    expect(sums(['programme: 10 % | cap 8.00'], 'A 79.00')).toContain(
      'Cap of €8.00 an order, not reached | —',
    );
    expect(sums(['programme: 10 % | cap 8.00'], 'A 40.00', 'B 80.00')).toContain(
      'Cap of €8.00 an order, reached by its lines’ €12.00: this line’s share is €2.67 | −€1.33',
    );
  });
  it('adds up where it was kept before the steps were said in full', () => {
    const [line] = resolved({
      rates: [say('programme: 10 % | cap 8.00'), say('uplift: plus 1.00 flat')],
      lines: [sayLine('A 100.00')],
    }).lines;
    const old = {
      ...line!,
      steps: {
        pay: line!.steps!.pay,
        band: null,
        ladder: 800,
        cap: { amount: 800, before: 1000 },
        uplift: {
          mode: 'plus' as const,
          pay: { type: 'flat-order' as const, amount: 100 },
          label: 'Spring',
          until: null,
        },
      },
    };
    const said = presentLines({
      event: 'sale',
      at: 0,
      currency: 'EUR',
      base: 'EUR',
      rateMicros: 1,
      lines: [old],
      total: 900,
    })[0]!.sums;
    expect(said.slice(2).map((s) => s.figure)).toEqual(['€10.00', '−€2.00', '€1.00', '€9.00']);
  });
  it('rates read as people say them', () => {
    expect(
      [
        'product S renewal 2–6 then nothing: 10 % | cap 20.00',
        'uplift: up to 15 %',
        'programme lead: 0.40 flat',
        'programme: 6.00 or USD 6.50 flat',
        'personal: from 60.00 10 %, from 150.00 35 %',
      ].map((t) => describeRate(say(t), 'EUR')),
    ).toEqual([
      '10 %, payments 2–6, then nothing, at most €20.00 a payment',
      'up to 15 %',
      '€0.40 a lead',
      '€6.00 an order, US$6.50 in USD',
      'from €60.00 10 %, from €150.00 35 %',
    ]);
  });
});

describe('what cannot stand', () => {
  const fault = (text: string) => faultsOf(say(text)).map((f) => f.detail);
  it('names the fault of a rate by itself', () => {
    expect(fault('programme: 8 %')).toEqual([]);
    expect(fault('programme: 0 %')).toEqual([]);
    expect(fault('personal: from 150.00 35 %, from 60.00 10 %')).toEqual([
      'Order bands are not in rising order',
    ]);
    expect(fault('personal: from 60.00 35 %, from 60.00 10 %')[0]).toMatch(/begin at the same value/);
    expect(fault('personal: from 60.00 0 %')[0]).toMatch(/pays nothing/);
    expect(
      faultsOf(
        rate('personal', 'aff', { what: { type: 'everything' }, reward: { type: 'bands', bands: [] } }),
      )[0]!.detail,
    ).toMatch(/at least one/);
    expect(fault('programme: 8 % | from 100 | until 100')).toEqual(['The end is not after the start']);
    expect(fault('uplift: up to 0 %')).toEqual(['An uplift of nothing raises nothing']);
    expect(fault('programme click: 5 %')).toEqual([
      'A click has no price: a percentage of it pays nothing, so say an amount',
    ]);
    expect(fault('uplift on F lead: plus 5 %')[0]).toMatch(/A lead has no price/);
    expect(fault('programme lead: from 0.00 5 %')[0]).toMatch(/A lead has no price/);
    expect([fault('programme click: 0 %'), fault('product F lead: 0.40 flat')]).toEqual([[], []]);
    expect(fault('product S renewal 6–2: 10 %')[0]).toMatch(/comes before/);
    expect(fault('product S renewal 1–2: 10 %')[0]).toMatch(/renewals begin at 2/);
    expect(faultsOf({ ...say('programme: 8 %'), who: 'aff' })[0]!.field).toBe('who');
    expect(faultsOf({ ...say('programme: 8 %'), what: { type: 'product', product: 'A' } })[0]!.field).toBe(
      'what',
    );
  });
  it('finds the rate that would tie, and only that', () => {
    const tie = (draft: string, present: string) => tieWith(say(draft), [say(present)]) !== null;
    expect(tie('programme: 9 %', 'programme: 8 %')).toBe(true);
    expect(tie('programme: 9 % | from 1', 'programme: 8 %')).toBe(false);
    expect(tie('card media: 9 %', 'card makers: 8 %')).toBe(false);
    expect(tie('product B: 9 %', 'product A: 9 %')).toBe(false);
    expect(tie('programme renewal: 9 %', 'programme: 8 %')).toBe(false);
    expect(tie('uplift: up to 9 %', 'uplift: up to 9 %')).toBe(false);
    expect(tie('product S renewal 7–12: 5 %', 'product S renewal 2–6 then next: 10 %')).toBe(false);
    expect(tie('product S renewal 7–12: 5 %', 'product S renewal 2–6 then nothing: 10 %')).toBe(true);
    expect(tie('product S renewal 6–12: 5 %', 'product S renewal 2–6 then next: 10 %')).toBe(true);
  });
  it('refuses two rates with bands for one affiliate at one time, whenever they begin', () => {
    const tie = (draft: string, present: string) => tieWith(say(draft), [say(present)]) !== null;
    expect(tie('personal: from 60.00 10 % | from 50', 'personal: from 80.00 10 % | from 10 | until 60')).toBe(
      true,
    );
    expect(tie('personal: from 60.00 10 % | from 60', 'personal: from 80.00 10 % | from 10 | until 60')).toBe(
      false,
    );
    expect(tie('personal other: from 60.00 10 % | from 50', 'personal: from 80.00 10 %')).toBe(false);
    expect(tie('personal on A: from 60.00 10 % | from 50', 'personal: from 80.00 10 %')).toBe(false);
  });
});

const texts = {
  who: fc.constantFrom('aff', 't1', 't2', 'G', 'makers', 'other'),
  what: fc.constantFrom('', ' on A', ' on kind one-off', ' on step s1'),
};
const reward = fc.oneof(
  fc.integer({ min: 0, max: 100 }).map((p) => `${p} %`),
  fc.integer({ min: 1, max: 900 }).map((c) => `${(c / 100).toFixed(2)} flat`),
  fc.constant('from 5.00 10 %, from 20.00 30 %'),
);
const span = fc
  .tuple(fc.integer({ min: 0, max: 30 }), fc.option(fc.integer({ min: 1, max: 30 }), { nil: null }))
  .map(([from, length]) => ` | from ${from}${length === null ? '' : ` | until ${from + length}`}`);
const anyRate = fc
  .record({ rung: fc.constantFrom(...rungs), ...texts, reward, span })
  .map(({ rung, who, what, reward: pays, span: when }) => {
    if (rung === 'product') return say(`product${what.includes('step') ? what : ' A'}: ${pays}${when}`);
    if (rung === 'programme') return say(`programme${what.includes('kind') ? what : ''}: ${pays}${when}`);
    return say(`${rung} ${who}${what}: ${pays}${when}`);
  });
const anyUplift = fc
  .record({
    ...texts,
    rung: fc.constantFrom('', ' group', ' card', ' personal'),
    mode: fc.constantFrom('up to', 'plus'),
    reward: fc.oneof(
      fc.integer({ min: 1, max: 60 }).map((p) => `${p} %`),
      fc.integer({ min: 1, max: 900 }).map((c) => `${(c / 100).toFixed(2)} flat`),
    ),
    span,
  })
  .map(({ who, what, rung, mode, reward: pays, span: when }) =>
    say(`uplift${rung ? `${rung} ${who}` : ''}${what}: ${mode} ${pays}${when}`),
  );
const anyTerms = fc.record({
  affiliate: fc.constant('aff'),
  card: fc.constantFrom(null, 'makers'),
  tags: fc.constantFrom<string[]>([], ['t1'], ['t2', 't1']),
  group: fc.constantFrom(null, { id: 'G', paused: false }, { id: 'G', paused: true }),
});
const anyLine = fc
  .record({
    product: fc.constantFrom('A', 'B'),
    amount: fc.integer({ min: 0, max: 5000 }),
    locked: fc.boolean(),
    step: fc.constantFrom(undefined, 's1'),
  })
  .map(({ product, amount, locked, step }): OrderLine => ({
    product,
    kind: 'one-off',
    name: product,
    quantity: 1,
    amount,
    discount: 0,
    approved: true,
    locked,
    ...(step ? { step } : {}),
  }));
/** Only sets that could be saved: no ties. */
const saveable = (rates: Rate[]) =>
  rates.reduce<Rate[]>((kept, r) => (tieWith(r, kept) ? kept : [...kept, r]), []);
const anyRates = fc.array(anyRate, { maxLength: 14 }).map(saveable);
const orderOf = (lines: OrderLine[], at: number) => ({
  event: 'sale' as const,
  at,
  currency: 'EUR',
  base: 'EUR',
  rateMicros: 1,
  lines,
});
const rowsOf = (lines: OrderLine[]) => lines.map((l) => ({ line: l, base: l.amount }));

/** The ladder as the domain words it, by scanning everything: slow, and the measure of the index. */
function naive(
  rates: Rate[],
  terms: AffiliateTerms,
  sold: Sold,
  { at, payment, rows }: Question,
): Rate | null {
  const fitting = rates.filter(
    (r) =>
      r.mode === 'base' &&
      covers(r.what, sold) &&
      ['applies', 'nothing-left'].includes(fitOf(r, at, payment, rows)),
  );
  for (const rung of rungs) {
    if (sold.locked && rungs.indexOf(rung) < 4) continue;
    const rank = (r: Rate) => (rung === 'tag' ? terms.tags.indexOf(r.who!) : 0);
    const here = fitting.filter(
      (r) =>
        r.rung === rung &&
        (rung === 'personal'
          ? r.who === terms.affiliate
          : rung === 'tag'
            ? terms.tags.includes(r.who!)
            : rung === 'group'
              ? r.who === terms.group?.id && !terms.group.paused
              : rung === 'card'
                ? r.who === terms.card
                : true),
    );
    here.sort((a, b) => width(a.what) - width(b.what) || rank(a) - rank(b) || b.from - a.from);
    if (here[0]) return here[0];
  }
  return null;
}

describe('properties of the ladder', () => {
  const moment = fc.integer({ min: 0, max: 60 });
  it('the index decides as the plain scan does, in 10,000 random programmes', () => {
    fc.assert(
      fc.property(
        anyRates,
        anyTerms,
        moment,
        fc.array(anyLine, { minLength: 1, maxLength: 3 }),
        (rates, terms, at, lines) => {
          const asked = { event: 'sale' as const, at, payment: 1, rows: rowsOf(lines) };
          const book = buildBook(rates);
          for (const line of lines)
            expect(winner(book, terms, line, asked)).toBe(naive(rates, terms, line, asked));
        },
      ),
      { numRuns: 10_000 },
    );
  }, 60_000);
  it('exactly one rate wins, or none where none applies', () => {
    fc.assert(
      fc.property(anyRates, anyTerms, moment, anyLine, (rates, terms, at, line) => {
        const working = resolved({ rates, terms, lines: [line], order: { at } }).lines[0]!;
        const wins = working.rungs.flatMap((r) => r.considered).filter((c) => c.outcome === 'wins');
        expect(wins.map((w) => w.rate.id)).toEqual(working.rateId === null ? [] : [working.rateId]);
      }),
      { numRuns: 1000 },
    );
  });
  it('amounts alone are those of the whole, with bands, caps and uplifts as with percentages alone', () => {
    let quick = 0;
    fc.assert(
      fc.property(
        anyRates,
        fc.array(anyUplift, { maxLength: 1 }),
        fc.option(fc.integer({ min: 1, max: 900 }), { nil: null }),
        anyTerms,
        moment,
        fc.array(anyLine, { minLength: 1, maxLength: 3 }),
        (rates, uplifts, cap, terms, at, lines) => {
          const book = buildBook([...rates.map((r, i) => (i % 3 === 0 ? { ...r, cap } : r)), ...uplifts]);
          const whole = resolveOrder(book, terms, orderOf(lines, at));
          expect(amountsOf(book, terms, orderOf(lines, at))).toEqual(whole.map((l) => l.amount));
          if (
            uplifts.length === 0 &&
            whole.some((l) => l.amount > 0) &&
            whole.every((l) => l.reward === null || l.reward.type === 'percent')
          )
            quick += 1;
        },
      ),
      { numRuns: 3000 },
    );
    // the short way was gone often enough for this to say something
    expect(quick).toBeGreaterThan(100);
  });
  it('one book answers for a product of two kinds', () => {
    const book = buildBook([
      say('programme: 8 %'),
      say('card makers on kind one-off: 10 %'),
      say('card makers on kind recurring: 12 %'),
    ]);
    const of = (kind: OrderLine['kind']) =>
      resolveOrder(book, { ...plain, card: 'makers' }, orderOf([{ ...sayLine('A 100.00'), kind }], 0))[0]!
        .amount;
    expect([of('one-off'), of('recurring'), of('one-off')]).toEqual([1000, 1200, 1000]);
  });
  it('the order in which rates were entered decides nothing', () => {
    fc.assert(
      fc.property(anyRates, anyTerms, moment, anyLine, (rates, terms, at, line) => {
        const forth = resolveOrder(buildBook(rates), terms, orderOf([line], at));
        expect(resolveOrder(buildBook([...rates].reverse()), terms, orderOf([line], at))).toEqual(forth);
      }),
      { numRuns: 1000 },
    );
  });
  it('a rate on a lower rung never changes the result', () => {
    fc.assert(
      fc.property(anyRates, anyTerms, moment, anyLine, anyRate, (rates, terms, at, line, extra) => {
        const asked = { event: 'sale' as const, at, payment: 1, rows: rowsOf([line]) };
        const before = winner(buildBook(rates), terms, line, asked);
        fc.pre(before !== null && rungs.indexOf(extra.rung) > rungs.indexOf(before.rung));
        expect(winner(buildBook([...rates, extra]), terms, line, asked)).toBe(before);
      }),
      { numRuns: 1000 },
    );
  });
  it('an uplift never lowers a line, and nothing exceeds what a line is worth', () => {
    fc.assert(
      fc.property(
        anyRates,
        fc.array(anyUplift, { minLength: 1, maxLength: 4 }),
        anyTerms,
        moment,
        fc.array(anyLine, { minLength: 1, maxLength: 4 }),
        (rates, uplifts, terms, at, lines) => {
          const without = resolveOrder(buildBook(rates), terms, orderOf(lines, at));
          const raised = resolveOrder(buildBook([...rates, ...uplifts]), terms, orderOf(lines, at));
          raised.forEach((line, i) => {
            expect(line.amount).toBeGreaterThanOrEqual(without[i]!.amount);
            expect(line.amount).toBeLessThanOrEqual(line.base);
          });
        },
      ),
      { numRuns: 2000 },
    );
  });
  it('a cap holds for all lines of its rate together', () => {
    fc.assert(
      fc.property(
        fc.array(anyLine, { minLength: 1, maxLength: 5 }),
        fc.integer({ min: 1, max: 100 }),
        fc.integer({ min: 1, max: 900 }),
        (lines, p, cap) => {
          const lone = { ...say(`programme: ${p} %`), cap };
          const sum = resolveOrder(
            buildBook([lone]),
            plain,
            orderOf(
              lines.map((l) => ({ ...l, locked: false })),
              0,
            ),
          ).reduce((s, l) => s + l.amount, 0);
          const uncapped = lines.reduce((s, l) => s + Math.round((l.amount * p) / 100 + 1e-9), 0);
          expect(sum).toBe(Math.min(cap, uncapped));
        },
      ),
    );
  });
});

describe('refunds', () => {
  it('R12: a flat reward shrinks with the value left', () => {
    expect(amountOnRest({ reward: { type: 'flat-order', amount: 600 }, base: 3000, amount: 600 }, 2000)).toBe(
      400,
    );
  });
  it('R13: refunds in parts sum exactly', () => {
    expect(
      [67, 34, 0].map((left) =>
        amountOnRest({ reward: { type: 'percent', ppm: 125_000 }, base: 100, amount: 13 }, left),
      ),
    ).toEqual([8, 4, 0]);
  });
  it('a cap is applied again to what is left', () => {
    // 10 % of 100.00 and 100.00, at most 12.00; one line comes back whole: 10.00 is left, which the cap allows
    const lines = resolveOrder(
      buildBook([say('programme: 10 % | cap 12.00')]),
      plain,
      orderOf([sayLine('A 100.00'), sayLine('B 100.00')], 0),
    );
    expect(lines.map((l) => l.amount)).toEqual([600, 600]);
    expect(amountsOnRest(lines, [10_000, 0])).toEqual([1000, 0]);
    expect(amountsOnRest(lines, [10_000, 5_000])).toEqual([800, 400]);
  });
  it('the band and the uplift of the sale stay, whatever is left', () => {
    const [line] = resolveOrder(
      buildBook([say('personal: from 60.00 10 %'), say('uplift: plus 1.00 flat')]),
      plain,
      orderOf([sayLine('A 100.00')], 0),
    );
    expect(line!.amount).toBe(1100);
    expect(amountOnRest(line!, 5000)).toBe(550);
  });
  const earnings = (rates: string[], lines: string[]) =>
    resolveOrder(
      buildBook(rates.map(say)),
      plain,
      orderOf(
        lines.map((l) => sayLine(l)),
        0,
      ),
    );
  it('a line that an uplift raised still counts in the cap of the rate that it won', () => {
    // 10 % of 100.00 twice, at most 12.00; an uplift raises B alone. B comes back: A must not take the whole cap, there is nothing to take
    const lines = earnings(
      ['programme: 10 % | cap 12.00', 'uplift on B: up to 8 %'],
      ['A 100.00', 'B 100.00'],
    );
    expect(lines.map((l) => l.amount)).toEqual([600, 800]);
    expect(amountsOnRest(lines, [10_000, 0])).toEqual([1000, 0]);
    expect(amountsOnRest(lines, [10_000, 10_000])).toEqual([600, 800]);
    expect(amountsOnRest(lines, [10_000, 5_000])).toEqual([800, 400]);
  });
  it('an uplift never lowers what is left: the larger of what the ladder and the uplift leave', () => {
    // 10 % capped at 5.00, up to 8 %: of 100.00 8.00; of what is left, 30.00, the ladder gives 3.00 and the uplift would give 2.40
    const lines = earnings(['programme: 10 % | cap 5.00', 'uplift: up to 8 %'], ['A 100.00']);
    expect(lines[0]!.amount).toBe(800);
    expect(amountOnRest(lines[0]!, 3000)).toBe(300);
  });
  it('an uplift’s cap is applied again over the lines it raised', () => {
    const lines = earnings(['programme: 10 %', 'uplift: plus 50 % | cap 1.00'], ['A 100.00', 'B 300.00']);
    expect(lines.map((l) => l.amount)).toEqual([1025, 3075]);
    expect(amountsOnRest(lines, [10_000, 0])).toEqual([1100, 0]);
    expect(amountsOnRest(lines, [100, 0])).toEqual([60, 0]);
  });
  it('partial refunds in any order sum to the commission', () => {
    fc.assert(
      fc.property(
        anyRates,
        fc.array(anyUplift, { maxLength: 3 }),
        fc.option(fc.integer({ min: 1, max: 900 }), { nil: null }),
        anyTerms,
        fc.array(anyLine, { minLength: 1, maxLength: 4 }),
        fc.array(fc.tuple(fc.nat(3), fc.nat(100)), { maxLength: 8 }),
        (rates, uplifts, cap, terms, lines, cuts) => {
          const sold: EarningLine[] = resolveOrder(
            buildBook([...rates.map((r) => ({ ...r, cap })), ...uplifts]),
            terms,
            orderOf(lines, 10),
          );
          const lefts = sold.map((l) => l.base);
          const whole = sold.reduce((s, l) => s + l.amount, 0);
          let standing = whole;
          let reversed = 0;
          const step = () => {
            const now = amountsOnRest(sold, lefts);
            now.forEach((amount, i) => {
              expect(amount).toBeGreaterThanOrEqual(0);
              expect(amount).toBeLessThanOrEqual(Math.max(lefts[i]!, 0));
            });
            const sum = now.reduce((a, b) => a + b, 0);
            reversed += standing - sum;
            standing = sum;
          };
          for (const [i, share] of cuts)
            if (i < lefts.length) {
              lefts[i]! -= Math.floor((lefts[i]! * share) / 100);
              step();
            }
          lefts.fill(0);
          step();
          expect([standing, reversed]).toEqual([0, whole]);
        },
      ),
      { numRuns: 1500 },
    );
  });
});

describe('time', () => {
  it('counts from inclusively and until exclusively', () => {
    expect([99, 100, 199, 200].map((at) => inForce({ from: 100, until: 200 }, at))).toEqual([
      false,
      true,
      true,
      false,
    ]);
  });
});
