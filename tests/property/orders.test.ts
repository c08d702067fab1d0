import fc from 'fast-check';
import { expect, it } from 'vitest';
import { convertToBase } from '../../src/core/money/amount';
import { percentOf } from '../../src/core/money/percent';
import { buildBook } from '../../src/core/terms/book';
import { amountsOnRest } from '../../src/core/terms/earned';
import { type OrderToResolve, type ResolvedLine } from '../../src/core/terms/order';
import { presentLines, type SumRow } from '../../src/core/terms/present';
import type { AffiliateTerms, Rate } from '../../src/core/terms/rate';
import { amountsOf, resolveOrder } from '../../src/core/terms/resolve';
import { resolveWithWorking } from '../../src/core/terms/resolve-working';
import { sharesOf, sharesOnRest } from '../../src/core/terms/shares';
import { type Working } from '../../src/core/terms/working';
import { type Id } from '../../src/core/text/id';
import { runsOf, seed } from '../helpers/long';
import { anyLadder, anyOrder, anyRefunds, anyUplifts, someTerms } from '../helpers/orders';

const options = (usual: number) => ({ numRuns: runsOf(usual), seed });
const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0);

/** What a person reads: "−€1,204.18" → −120418, "JP¥5,000" → 5000. */
function read(figure: string): number {
  const digits = figure.replace(/[^\d]/g, '');
  return (figure.startsWith('−') ? -1 : 1) * Number(digits);
}
const percents = (label: string) =>
  [...label.matchAll(/([\d.]+) %/g)].map((m) => Math.round(Number(m[1]) * 10_000));

/** What has been added up so far: of the part that is open, of the value, of the reward. */
interface Column {
  open: number;
  value: number;
  reward: number;
}

/** A step between values: only an exchange rate is one that can be checked. */
function exchanged(column: Column, { label, figure }: SumRow): void {
  const rate = /^÷ ([\d.]+) JPY for 1 EUR$/.exec(label);
  if (!rate) return;
  const micros = Math.round(Number(rate[1]) * 1_000_000);
  expect(read(figure), label).toBe(convertToBase(column.value, 'JPY', 'EUR', micros));
  column.value = read(figure);
}

function multiplied(column: Column, label: string, amount: number): void {
  const [all, ...parts] = percents(label.replace(/, at most .*$/, ''));
  expect(amount, label).toBe(percentOf(column.value, all!));
  if (parts.length) expect(sum(parts), label).toBe(all);
  column.reward = amount;
}

function capped({ open, reward }: Column, label: string, amount: number): void {
  const share = /share is (.*)$/.exec(label) ?? /Cap of (\S+)/.exec(label);
  expect(open + amount, label).toBe(read(share![1]!));
  expect(reward, label).toBeGreaterThanOrEqual(0);
}

/** What an amount by itself says of what stands above it. */
function added(column: Column, label: string, amount: number): void {
  const { open, value } = column;
  if (label.startsWith('× ')) multiplied(column, label, amount);
  else if (label === 'Limited to what the line is worth')
    expect(open + amount, `${label} leaves the line's worth`).toBe(value);
  else if (/^Uplift.*up to .*, that is /.test(label))
    expect(open + amount, label).toBe(read(/that is (.*)$/.exec(label)![1]!));
  else if (/^Uplift.*: plus [\d.]+ %(, at most [^,]+ an order, not passed)?$/.test(label))
    expect(amount, label).toBe(percentOf(value, percents(label)[0]!));
  else if (label.startsWith('Cap of ')) capped(column, label, amount);
  column.open += amount;
}

/** Adds a column of sums up as a reader would, with nothing but what it shows. @throws where a row does not follow from those above */
function addUp(rows: readonly SumRow[]): number {
  const column: Column = { open: 0, value: 0, reward: 0 };
  for (const row of rows) {
    const amount = read(row.figure);
    if (row.weight === 'aside') continue;
    else if (row.weight === 'step') exchanged(column, row);
    else if (row.weight === 'sum') {
      expect(amount, `${row.label} is the sum of its parts in ${JSON.stringify(rows)}`).toBe(column.open);
      if (row.label === 'Commissionable') column.value = amount;
      column.open = 0;
    } else added(column, row.label, amount);
  }
  return read(rows.at(-1)!.figure);
}

function checkWorking(working: Working): void {
  const presented = presentLines(working);
  presented.forEach((line, i) =>
    expect(addUp(line.sums), JSON.stringify(line.sums)).toBe(working.lines[i]!.amount),
  );
  expect(sum(working.lines.map((l) => l.amount))).toBe(working.total);
  for (const line of working.lines) {
    const cap = line.steps!.cap;
    if (!cap || !line.steps!.pay || line.steps!.earnedBefore) continue;
    const together = sum(
      working.lines.filter((l) => l.rateId === line.rateId && l.steps!.pay).map((l) => l.steps!.cap!.before),
    );
    const said = presented[working.lines.indexOf(line)]!.sums.find((s) => s.label.startsWith('Cap of '))!;
    expect(said.label.includes('not reached'), said.label).toBe(together < cap.amount);
  }
}

function refunded(
  lines: readonly ResolvedLine[],
  refunds: readonly (readonly [number, number])[],
  each: (amounts: number[], lefts: number[]) => void,
): void {
  const lefts = lines.map((l) => l.base);
  let before = lines.map((l) => l.amount);
  const step = () => {
    before = amountsOnRest(lines, lefts, before);
    each(before, lefts);
  };
  for (const [i, share] of refunds) {
    if (i >= lefts.length) continue;
    lefts[i]! -= Math.floor((lefts[i]! * share) / 100);
    step();
  }
  lefts.fill(0);
  step();
}

it(`random orders (seed ${seed}): every working adds up by what it shows`, () => {
  let raised = 0;
  let capped = 0;
  let further = 0;
  fc.assert(
    fc.property(anyLadder, anyUplifts, someTerms, anyOrder, (rates, uplifts, terms, order) => {
      const working = resolveWithWorking(buildBook([...rates, ...uplifts]), terms, order);
      checkWorking(working);
      expect(amountsOf(buildBook([...rates, ...uplifts]), terms, order)).toEqual(
        working.lines.map((l) => l.amount),
      );
      for (const line of working.lines) {
        raised += line.steps!.uplift ? 1 : 0;
        capped += (line.steps!.cap?.sum ?? 0) > (line.steps!.cap?.amount ?? Infinity) ? 1 : 0;
        further += line.steps!.earnedBefore ? 1 : 0;
      }
    }),
    options(3000),
  );
  // a property over orders in which nothing happens would find nothing
  expect(Math.min(raised, capped, further)).toBeGreaterThan(50);
}, 900_000);

it(`random orders (seed ${seed}): an uplift adds at most its cap to an order, never lowers a line, and nothing exceeds what a line is worth`, () => {
  fc.assert(
    fc.property(anyLadder, anyUplifts, someTerms, anyOrder, (rates, uplifts, terms, order) => {
      const without = amountsOf(buildBook(rates), terms, order);
      const working = resolveWithWorking(buildBook([...rates, ...uplifts]), terms, order);
      const added = new Map<Rate, number>();
      working.lines.forEach((line, i) => {
        expect(line.amount).toBeGreaterThanOrEqual(without[i]!);
        expect(line.amount).toBeLessThanOrEqual(line.base);
        const by = line.uplifts!.find((u) => u.outcome === 'wins')?.rate;
        expect(by !== undefined || line.amount === without[i]).toBe(true);
        if (by) added.set(by, (added.get(by) ?? 0) + line.amount - without[i]!);
      });
      for (const [uplift, amount] of added) expect(amount).toBeLessThanOrEqual(uplift.cap ?? Infinity);
    }),
    options(3000),
  );
}, 900_000);

it(`random orders (seed ${seed}): a refund never raises what an order earns, an uplift never lowers what is left, and everything refunded leaves nothing`, () => {
  fc.assert(
    fc.property(
      fc.record({
        rates: anyLadder,
        uplifts: anyUplifts,
        terms: someTerms,
        order: anyOrder,
        refunds: anyRefunds,
      }),
      ({ rates, uplifts, terms, order, refunds }) => {
        const plain = resolveOrder(buildBook(rates), terms, order);
        const raised = resolveOrder(buildBook([...rates, ...uplifts]), terms, order);
        const leftPlain: number[] = [];
        refunded(plain, refunds, (amounts) => leftPlain.push(sum(amounts)));
        let last = sum(raised.map((l) => l.amount));
        let n = 0;
        refunded(raised, refunds, (amounts, lefts) => {
          amounts.forEach((amount, i) => {
            expect(amount).toBeGreaterThanOrEqual(0);
            expect(amount).toBeLessThanOrEqual(lefts[i]!);
          });
          expect(sum(amounts), 'a refund raises nothing').toBeLessThanOrEqual(last);
          expect(sum(amounts), 'an uplift lowers nothing').toBeGreaterThanOrEqual(leftPlain[n]!);
          last = sum(amounts);
          n += 1;
        });
        expect(last).toBe(0);
      },
    ),
    options(3000),
  );
}, 900_000);

it(`random orders (seed ${seed}): shares of a sale and its commission never exceed the value left, and no refund raises a share`, () => {
  const share = fc.integer({ min: 0, max: 500_000 });
  fc.assert(
    fc.property(
      fc.record({
        rates: anyLadder,
        uplifts: anyUplifts,
        terms: someTerms,
        order: anyOrder,
        refunds: anyRefunds,
        ppm: share,
        of: fc.constantFrom('sale' as const, 'commission' as const),
        owners: fc.array(share, { maxLength: 2 }),
      }),
      ({ rates, uplifts, terms, order, refunds, ppm, of: basis, owners }) => {
        const lines = resolveOrder(buildBook([...rates, ...uplifts]), terms, order);
        const granted = lines.map((l) =>
          sharesOf(
            l.base,
            l.amount,
            { affiliate: 'aff_own', by: 'aff_ann', ppm, of: basis, from: 0, until: null },
            owners.map((own, i) => ({
              product: l.product as Id<'product'>,
              payee: `aff_own-${i}`,
              ppm: own,
              from: 0,
              until: null,
            })),
          ).map((s) => s.amount),
        );
        let last = granted;
        refunded(lines, refunds, (amounts, lefts) => {
          const left = granted.map((shares, i) =>
            sharesOnRest(shares, lines[i]!.base, lefts[i]!, amounts[i]!),
          );
          left.forEach((shares, i) => expect(sum(shares) + amounts[i]!).toBeLessThanOrEqual(lefts[i]!));
          last = left;
        });
        expect(sum(last.flat())).toBe(0);
      },
    ),
    options(1500),
  );
}, 900_000);

it(`random orders (seed ${seed}): a flat reward per order is earned with its first payment alone, a percentage with each`, () => {
  fc.assert(
    fc.property(
      anyOrder,
      fc.integer({ min: 1, max: 900 }),
      fc.integer({ min: 1, max: 1_000_000 }),
      (order: OrderToResolve, amount, ppm) => {
        const flat = {
          id: 'rat_f',
          mode: 'base',
          rung: 'programme',
          who: null,
          what: { type: 'everything' },
          event: 'sale',
          payments: null,
          reward: { type: 'flat-order', amount },
          cap: null,
          from: 0,
          until: null,
          label: '',
        } satisfies Rate;
        const terms: AffiliateTerms = { affiliate: 'aff_own', card: null, group: null, tags: [] };
        expect(sum(amountsOf(buildBook([flat]), terms, { ...order, payment: 2 }))).toBe(0);
        const percent: Rate = { ...flat, reward: { type: 'percent', ppm } };
        expect(amountsOf(buildBook([percent]), terms, { ...order, payment: 2 })).toEqual(
          amountsOf(buildBook([percent]), terms, { ...order, payment: 1 }),
        );
      },
    ),
    options(500),
  );
});

it('reads figures as people do', () => {
  expect(['−€1,204.18', 'JP¥5,000', '€0.00'].map(read)).toEqual([-120_418, 5000, 0]);
});
