import type { Credit } from '../attribution/credit';
import type { Considered } from './considered';
import { formatMoney } from '../money/amount';
import { formatPercent } from '../money/percent';
import type { Pay, Rate, Rung } from './rate';
import { describePay, describeRate } from './rate';
import type { LineWorking, Working } from './resolve';
import type { Share } from './shares';

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

/** The arithmetic of a working that was kept before there were bands, caps and uplifts. */
function plainRows(line: LineWorking, working: Working): SumRow[] {
  if (!line.reward || line.reward.type === 'composed') return [{ label: line.reason ?? 'No rate', figure: '—', weight: 'aside' }];
  return [{ label: payLabel(line.reward, working), figure: formatMoney({ amount: line.amount, currency: working.base }), weight: 'part' }];
}

function payLabel(pay: Pay, working: Working): string {
  if (pay.type === 'percent') return `× ${formatPercent(pay.ppm)}, rounded`;
  return `${working.event === 'click' ? `${working.lines[0]!.quantity} clicks × ` : ''}${describePay(pay, working.base, working.event)}`;
}

function stepRows(line: LineWorking, working: Working, names: boolean): SumRow[] {
  const { pay, band, ladder, cap, uplift } = line.steps!;
  const base = (amount: number) => formatMoney({ amount, currency: working.base });
  const rows: SumRow[] = [];
  if (band) rows.push({ label: `Band from ${base(band.from)}, reached by the order’s ${base(band.worth)}`, figure: '', weight: 'part' });
  if (pay) rows.push({ label: payLabel(pay, working), figure: base(cap ? cap.before : ladder), weight: 'part' });
  else rows.push({ label: line.reason ?? 'No rate', figure: '—', weight: 'aside' });
  if (cap && cap.before !== ladder) rows.push({ label: `Cap of ${base(cap.amount)} an order, this line’s share`, figure: base(ladder), weight: 'part' });
  else if (cap) rows.push({ label: `Cap of ${base(cap.amount)} an order, not reached`, figure: '—', weight: 'aside' });
  if (uplift) rows.push({ label: `${names && uplift.label ? `Uplift ${uplift.label}` : 'Uplift'}: ${uplift.mode === 'plus' ? 'plus' : 'up to'} ${describePay(uplift.pay, working.base, working.event)}`, figure: base(line.amount), weight: 'part' });
  else if (line.uplifts?.length === 0) rows.push({ label: 'Uplift: none on this day', figure: '—', weight: 'aside' });
  return rows;
}

function sumsOf(line: LineWorking, working: Working, names: boolean): SumRow[] {
  const foreign = (amount: number) => formatMoney({ amount, currency: working.currency });
  const base = (amount: number) => formatMoney({ amount, currency: working.base });
  if (working.event === 'click') return [...(line.steps ? stepRows(line, working, names) : plainRows(line, working)), { label: 'Commission', figure: base(line.amount), weight: 'sum' }];
  const rows: SumRow[] = [{ label: line.quantity > 1 ? `Price paid, ${line.quantity} units` : 'Price paid', figure: foreign(line.gross), weight: 'part' }];
  if (line.discount) rows.push({ label: 'Discount', figure: foreign(-line.discount), weight: 'part' });
  rows.push({ label: 'Commissionable', figure: foreign(line.value), weight: 'part' });
  if (working.currency !== working.base) rows.push({ label: `÷ ${formatRate(working.rateMicros)} ${working.currency} for 1 ${working.base}`, figure: base(line.base), weight: 'part' });
  rows.push(...(line.steps ? stepRows(line, working, names) : plainRows(line, working)));
  rows.push({ label: 'Commission', figure: base(line.amount), weight: 'sum' });
  return rows;
}

interface RungRows { rung: string; rows: { text: string; outcome: string; why: string }[] }

/** A rate kept in an old working lacks what rates gained since. */
function said(rate: Rate, base: string): string {
  return describeRate({ reward: rate.reward, event: rate.event, payments: rate.payments ?? null, cap: rate.cap ?? null, mode: rate.mode ?? 'base' }, base);
}

function rungRows(line: LineWorking, working: Working, names: boolean): RungRows[] {
  const row = ({ rate, outcome, why }: Considered) => ({ text: `${names && rate.label && rate.label !== rungNames[rate.rung] ? `${rate.label}: ` : ''}${said(rate, working.base)}`, outcome, why });
  const ladder = line.rungs.map(({ rung, considered, remark }): RungRows => ({
    rung: rungNames[rung], rows: considered.length ? considered.map(row) : [{ text: remark ?? '', outcome: 'does-not-apply', why: '' }],
  }));
  return line.uplifts?.length ? [...ladder, { rung: 'Uplift', rows: line.uplifts.map(row) }] : ladder;
}

/** A working in words and columns: what a person reads who asks why. @param names false for affiliates: what the merchant calls its rates is its own */
export function presentLines(working: Working, names = true): PresentedLine[] {
  return working.lines.map((line) => ({ product: line.name, locked: line.locked, reason: line.reason, sums: sumsOf(line, working, names), rungs: rungRows(line, working, names) }));
}

/** A share of a line as a column of sums: of what it is a percent, then the amount. @param base currency @param who the affiliate whose sale it is */
export function presentShare(share: Pick<Share, 'kind' | 'ppm' | 'of' | 'basis' | 'amount'>, base: string, who: string | null): SumRow[] {
  const money = (amount: number) => formatMoney({ amount, currency: base });
  const basis = share.of === 'sale' ? 'Commissionable value of the sale' : share.of === 'commission' ? `Commission of ${who ?? 'the affiliate'}` : 'Left of the sale after commission and referral share';
  return [
    { label: basis, figure: money(share.basis), weight: 'part' }, { label: `× ${formatPercent(share.ppm)}, rounded`, figure: money(share.amount), weight: 'part' },
    { label: share.kind === 'referral' ? 'Referral share' : 'Co-owner share', figure: money(share.amount), weight: 'sum' },
  ];
}

/** A working in one text, for a cell of a table: "Wheel: Card 12 %, decides; Price paid €199.00, × 12 %, rounded €23.88, Commission €23.88". */
export function workingInWords(working: Working): string {
  return presentLines(working).map((line) => {
    const won = line.rungs.flatMap((r) => r.rows.filter((row) => row.outcome === 'wins').map((row) => `${r.rung} ${row.text}, ${row.why}`));
    const sums = line.sums.filter((s) => s.weight !== 'aside').map((s) => `${s.label} ${s.figure}`.trim());
    return `${line.product}: ${[won.join(', ') || line.reason || 'no rate', sums.join(', ')].join('; ')}`;
  }).join(' | ');
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
