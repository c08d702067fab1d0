import { describe, expect, it } from 'vitest';
import { rate, resolved, say, sayLine, sayTerms } from '../../../tests/helpers/terms';
import { inForce } from '../calendar/span';
import { faultsOf, tieWith } from './conflict';
import type { Considered } from './considered';
import { presentLines } from './present';
import { describeRate, describeReward } from './rate';
import { describeRateReason } from './reason';

const worded = (rates: string[], terms: string, line: string, order = {}) =>
  resolved({ rates: rates.map(say), terms: sayTerms(terms), lines: [sayLine(line)], order });
const inWords = ({ why, rate }: Considered) => describeRateReason(why, rate, 'EUR');
const whys = (...args: Parameters<typeof worded>) =>
  worded(...args).lines[0]!.rungs.flatMap((r) =>
    r.considered.map((c) => `${r.rung} ${describeReward(c.rate.reward, 'EUR')}: ${c.outcome}, ${inWords(c)}`),
  );

it('the working: names every rung, the winner, and why the others lost', () => {
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
  const rungs = presentLines(worded(['programme: 8 %'], '', 'A 1.00'))[0]!.rungs;
  expect(rungs.map((r) => r.rows.map((row) => row.text))).toEqual([
    ['no personal rate'],
    ['no rate by tag'],
    ['in no group with a rate'],
    ['no rate on the card'],
    ['none for this product'],
    ['programme: 8 %'],
  ]);
});
it('the working: says what a lock, a pause, a start and an end did', () => {
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
it('the working: says which payments and which order value a rate asks for', () => {
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
it('the working: says why an uplift counted or not', () => {
  const whysOf = (rates: string[], terms: string, line: string) =>
    worded(rates, terms, line).lines[0]!.uplifts!.map((u) => `${u.outcome}, ${inWords(u)}`);
  expect(whysOf(['programme: 8 %', 'uplift: up to 15 %', 'uplift: plus 1 %'], '', 'A 100.00')).toEqual([
    'loses, another uplift is better; two do not add up',
    'wins, raises it',
  ]);
  expect(whysOf(['programme: 20 %', 'uplift: up to 15 %'], '', 'A 100.00')).toEqual([
    'loses, raises nothing here',
  ]);
  expect(whysOf(['programme: 8 %', 'uplift: up to 15 %'], '', 'A 100.00 locked')).toEqual([
    'does-not-apply, the product is locked',
  ]);
  expect(
    whysOf(
      ['programme: 8 %', 'uplift group G: up to 15 %', 'uplift group H: up to 15 %'],
      'group G paused',
      'A 100.00',
    ),
  ).toEqual(['does-not-apply, the group is paused']);
});
it('the working: adds up by hand: band, cap, uplift', () => {
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
it('the working: adds a plus in percent to the percent that decided, and says which was applied', () => {
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
  expect(sums(['programme: 10 % | cap 8.00'], 'A 79.00')).toContain('Cap of €8.00 an order, not reached | —');
  expect(sums(['programme: 10 % | cap 8.00'], 'A 40.00', 'B 80.00')).toContain(
    'Cap of €8.00 an order, reached by its lines’ €12.00: this line’s share is €2.67 | −€1.33',
  );
});
it('the working: adds up where it was kept before the steps were said in full', () => {
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
it('the working: rates read as people say them', () => {
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
        rate('personal', 'set_aff', { what: { type: 'everything' }, reward: { type: 'bands', bands: [] } }),
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
    expect(faultsOf({ ...say('programme: 8 %'), who: 'set_aff' })[0]!.field).toBe('who');
    expect(
      faultsOf({ ...say('programme: 8 %'), what: { type: 'product', product: 'prd_A' } })[0]!.field,
    ).toBe('what');
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
