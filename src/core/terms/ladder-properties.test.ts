import fc from 'fast-check';
import { expect, it } from 'vitest';
import {
  anyLine,
  anyRate,
  anyRates,
  anyTerms,
  anyUplift,
  orderOf,
  rowsOf,
} from '../../../tests/helpers/ladders';
import { plain, resolved, say, sayLine } from '../../../tests/helpers/terms';
import { buildBook, winner, type Question } from './book';
import { type OrderLine } from './order';
import { covers, fitOf, rungs, width, type AffiliateTerms, type Rate, type Sold } from './rate';
import { amountsOf, resolveOrder } from './resolve';

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
    const rank = (r: Rate) => (rung === 'tag' ? terms.tags.findIndex((tag) => tag === r.who) : 0);
    const here = fitting.filter(
      (r) =>
        r.rung === rung &&
        (rung === 'personal'
          ? r.who === terms.affiliate
          : rung === 'tag'
            ? terms.tags.some((tag) => tag === r.who)
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
      fc.record({
        rates: anyRates,
        uplifts: fc.array(anyUplift, { maxLength: 1 }),
        cap: fc.option(fc.integer({ min: 1, max: 900 }), { nil: null }),
        terms: anyTerms,
        at: moment,
        lines: fc.array(anyLine, { minLength: 1, maxLength: 3 }),
      }),
      ({ rates, uplifts, cap, terms, at, lines }) => {
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
  const countOf = (kind: OrderLine['kind']) =>
    resolveOrder(book, { ...plain, card: 'set_makers' }, orderOf([{ ...sayLine('A 100.00'), kind }], 0))[0]!
      .amount;
  expect([countOf('one-off'), countOf('recurring'), countOf('one-off')]).toEqual([1000, 1200, 1000]);
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
    fc.property(
      fc.record({ rates: anyRates, terms: anyTerms, at: moment, line: anyLine, extra: anyRate }),
      ({ rates, terms, at, line, extra }) => {
        const asked = { event: 'sale' as const, at, payment: 1, rows: rowsOf([line]) };
        const before = winner(buildBook(rates), terms, line, asked);
        fc.pre(before !== null && rungs.indexOf(extra.rung) > rungs.indexOf(before.rung));
        expect(winner(buildBook([...rates, extra]), terms, line, asked)).toBe(before);
      },
    ),
    { numRuns: 1000 },
  );
});
it('an uplift never lowers a line, and nothing exceeds what a line is worth', () => {
  fc.assert(
    fc.property(
      fc.record({
        rates: anyRates,
        uplifts: fc.array(anyUplift, { minLength: 1, maxLength: 4 }),
        terms: anyTerms,
        at: moment,
        lines: fc.array(anyLine, { minLength: 1, maxLength: 4 }),
      }),
      ({ rates, uplifts, terms, at, lines }) => {
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
