import type { Credit } from '../attribution/credit';
import { formatMoney } from '../money/amount';
import { formatPercent } from '../money/percent';
import type { Rung } from './rate';
import { describeReward } from './rate';
import type { LineWorking, Working } from './resolve';

/** A row of a column of sums: part, the sum below its rule, or an aside that did not apply. */
export interface SumRow {
  label: string;
  figure: string;
  weight: 'part' | 'sum' | 'aside';
}

export interface PresentedLine {
  product: string;
  locked: boolean;
  rungs: { rung: string; rows: { text: string; outcome: string; why: string }[] }[];
  sums: SumRow[];
  reason: string | null;
}

const rungNames: Record<Rung, string> = { personal: 'Personal', tag: 'Tag', group: 'Group', card: 'Card', product: 'Product', programme: 'Programme' };

/** How much of the foreign currency one unit of base buys: 160000000 → "160". */
export function formatRate(rateMicros: number): string {
  const text = String(rateMicros).padStart(7, '0');
  const fraction = text.slice(-6).replace(/0+$/, '');
  return text.slice(0, -6) + (fraction ? `.${fraction}` : '');
}

function sumsOf(line: LineWorking, working: Working): SumRow[] {
  const foreign = (amount: number) => formatMoney({ amount, currency: working.currency });
  const base = (amount: number) => formatMoney({ amount, currency: working.base });
  const rows: SumRow[] = [{ label: line.quantity > 1 ? `Price paid, ${line.quantity} units` : 'Price paid', figure: foreign(line.gross), weight: 'part' }];
  if (line.discount) rows.push({ label: 'Discount', figure: foreign(-line.discount), weight: 'part' });
  rows.push({ label: 'Commissionable', figure: foreign(line.value), weight: 'part' });
  if (working.currency !== working.base) rows.push({ label: `÷ ${formatRate(working.rateMicros)} ${working.currency} for 1 ${working.base}`, figure: base(line.base), weight: 'part' });
  if (line.reward) {
    const label = line.reward.type === 'percent' ? `× ${formatPercent(line.reward.ppm)}, rounded` : describeReward(line.reward, working.base);
    rows.push({ label, figure: base(line.amount), weight: 'part' });
  } else rows.push({ label: line.reason ?? 'No rate', figure: '—', weight: 'aside' });
  rows.push({ label: 'Commission', figure: base(line.amount), weight: 'sum' });
  return rows;
}

/** A working in words and columns: what a person reads who asks why. */
export function presentLines(working: Working): PresentedLine[] {
  return working.lines.map((line) => ({
    product: line.name, locked: line.locked, reason: line.reason, sums: sumsOf(line, working),
    rungs: line.rungs.map(({ rung, considered, remark }) => ({
      rung: rungNames[rung],
      rows: considered.length
        ? considered.map(({ rate, outcome, why }) => ({ text: describeReward(rate.reward, working.base), outcome, why }))
        : [{ text: remark ?? '', outcome: 'does-not-apply', why: '' }],
    })),
  }));
}

/** The exchange of a working in words, or null in base currency. */
export function presentExchange(working: Working): string | null {
  return working.currency === working.base ? null : `1 ${working.base} = ${formatRate(working.rateMicros)} ${working.currency} on the day of the order`;
}

/** Who was credited and what else was looked at, with names. */
export function presentCredit(credit: Credit, nameOf: (affiliate: string) => string) {
  return {
    who: credit.affiliate === null ? null : nameOf(credit.affiliate), reason: credit.reason,
    considered: credit.considered.map(({ visit, affiliate, at, outcome }) => ({ visit, who: nameOf(affiliate), at, outcome })),
  };
}
