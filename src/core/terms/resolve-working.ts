import type { Book, Question } from './book';
import type { Spent } from './caps';
import { considered, consideredUplifts } from './considered';
import type { OrderToResolve } from './order';
import { worthIn, type AffiliateTerms, type Pay, type Rate } from './rate';
import { asResolved, decide, isFurther, type Decided } from './resolve';
import type { LineWorking, Steps, Working } from './working';

/** What earlier payments of the order earned under a cap, where they did. */
function earlierOf({ id }: Rate, spent: Spent | undefined): { earlier?: number } {
  const earlier = spent?.get(id) ?? 0;
  return earlier > 0 ? { earlier } : {};
}

function capStep(
  rate: Rate | null,
  spent: Spent | undefined,
  reached: { before: number; sum: number },
): Steps['cap'] {
  if (rate === null || rate.cap === null) return null;
  return { amount: rate.cap, ...reached, ...earlierOf(rate, spent) };
}

function stepsOf(
  { rate, pay, band, amount, uncapped, promised, wonTogether, raise }: Decided,
  asked: Question,
  order: OrderToResolve,
): Steps {
  return {
    pay,
    promised,
    ladder: amount,
    band: band ? { from: band.from, worth: worthIn(rate!, asked.rows) } : null,
    cap: capStep(rate, order.spent, { before: uncapped, sum: wonTogether }),
    uplift: raise
      ? {
          mode: raise.rate.mode,
          pay: raise.rate.reward as Pay,
          label: raise.rate.label,
          until: raise.rate.until,
          flat: raise.flat,
          cap: raise.rate.cap,
          ...earlierOf(raise.rate, order.spent),
          uncapped: raise.uncapped,
        }
      : null,
    ...(pay?.type === 'flat-order' && isFurther(order) ? { earnedBefore: true } : {}),
  };
}

/** Resolves an order with its working: every rung, every rate and uplift considered, and why. */
export function resolveWithWorking(book: Book, terms: AffiliateTerms, order: OrderToResolve): Working {
  const { rows, asked } = decide(book, terms, order);
  let total = 0;
  const lines: LineWorking[] = [];
  for (const row of rows) {
    const { line, rate, raise } = row;
    const resolved = asResolved(row, order);
    total += resolved.amount;
    lines.push({
      ...resolved,
      locked: line.locked ?? false,
      rungs: considered(book, terms, { sold: line, asked, decided: rate }),
      uplifts: consideredUplifts(book, terms, { sold: line, asked, chosen: raise?.rate ?? null }),
      steps: stepsOf(row, asked, order),
    });
  }
  return {
    event: order.event,
    at: order.at,
    payment: asked.payment,
    currency: order.currency,
    base: order.base,
    rateMicros: order.rateMicros,
    lines,
    total,
  };
}
