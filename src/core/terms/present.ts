import { formatMoney } from '../money/amount';
import { formatPercent, percentOf } from '../money/percent';
import type { Considered } from './considered';
import type { ConsideredOutcome } from './lists';
import { describePay, describeRate, type Pay, type Rate, type Rung } from './rate';
import { describeLineReason, describeRateReason } from './reason';
import type { Share } from './shares';
import { type LineWorking, type Steps, type Working } from './working';

/**
 * A row of a column of sums. The parts since the last sum, added up, are the next sum; a step says what a figure is made of
 * (an exchange rate, a band) and is not added; an aside did not apply.
 */
export interface SumRow {
  label: string;
  figure: string;
  weight: 'part' | 'step' | 'sum' | 'aside';
}

export interface PresentedLine {
  product: string;
  locked: boolean;
  rungs: { rung: string; rows: { text: string; outcome: ConsideredOutcome; why: string }[] }[];
  sums: SumRow[];
  reason: string | null;
}

const rungNames: Record<Rung, string> = {
  personal: 'Personal',
  tag: 'Tag',
  group: 'Group',
  card: 'Card',
  product: 'Product',
  programme: 'Programme',
};

const nothingOn: Record<Rung, string> = {
  personal: 'no personal rate',
  tag: 'no rate by tag',
  group: 'in no group with a rate',
  card: 'no rate on the card',
  product: 'none for this product',
  programme: 'no rate for everything',
};

/** How much of the foreign currency one unit of base buys: 160000000 → "160". */
export function formatRate(rateMicros: number): string {
  const text = String(rateMicros).padStart(7, '0');
  const fraction = text.slice(-6).replace(/0+$/, '');
  return text.slice(0, -6) + (fraction ? `.${fraction}` : '');
}

function payLabel(pay: Pay, line: LineWorking, working: Working): string {
  if (pay.type === 'percent') return `× ${formatPercent(pay.ppm)}, rounded`;
  const many = pay.type === 'flat-unit' ? line.quantity : 1;
  const share =
    pay.type === 'flat-order' && working.lines.length > 1 && working.event !== 'click'
      ? ', this line’s share'
      : '';
  const times = working.event === 'click' ? `${line.quantity} clicks × ` : many > 1 ? `${many} × ` : '';
  return `${times}${describePay(pay, working.base, working.event)}${share}`;
}

/** What one line's rows are made from: its steps, and amounts said in base currency. */
interface Column {
  line: LineWorking;
  working: Working;
  steps: Steps;
  names: boolean;
  say: (amount: number) => string;
}

/** The rest of a reward that would exceed what the line is worth. */
function limitRow({ say }: Column, promised: number, given: number): SumRow[] {
  return promised > given
    ? [{ label: 'Limited to what the line is worth', figure: say(given - promised), weight: 'part' }]
    : [];
}

/** True where the lines of the rate together passed its cap, whatever this line's share of it is. */
function isCutByCap({ cap, ladder }: Steps): boolean {
  if (cap === null) return false;
  return cap.sum === undefined ? cap.before !== ladder : cap.sum > cap.amount - (cap.earlier ?? 0);
}

/** A cap, with what earlier payments of the order earned under it. */
function capName({ amount, earlier }: NonNullable<Steps['cap']>, say: Column['say']): string {
  const before = earlier ? `, of which earlier payments earned ${say(earlier)}` : '';
  return `Cap of ${say(amount)} an order${before}`;
}

function capRow({ steps, say }: Column): SumRow[] {
  const { cap, ladder } = steps;
  if (!cap) return [];
  if (isCutByCap(steps))
    return [
      {
        label: `${capName(cap, say)}${cap.sum !== undefined && cap.sum !== cap.before ? `, reached by its lines’ ${say(cap.sum)}: this line’s share is ${say(ladder)}` : ', reached'}`,
        figure: say(ladder - cap.before),
        weight: 'part',
      },
    ];
  return [
    {
      label: `${capName(cap, say)}, ${(cap.sum ?? cap.before) === cap.amount - (cap.earlier ?? 0) ? 'just reached' : 'not reached'}`,
      figure: '—',
      weight: 'aside',
    },
  ];
}

const wordsOf = ({ reason }: Pick<LineWorking, 'reason'>): string | null =>
  reason === null ? null : describeLineReason(reason);

/** What the ladder gives: its reward, the limit to the line's value, its cap. */
function ladderRows(column: Column): SumRow[] {
  const {
    line,
    working,
    steps: { pay, cap, ladder, promised, earnedBefore },
    say,
  } = column;
  if (!pay || earnedBefore)
    return [
      {
        label:
          wordsOf(line) ??
          (earnedBefore ? 'A flat reward per order is earned once, with the first payment' : 'No rate'),
        figure: '—',
        weight: 'aside',
      },
    ];
  const before = cap ? cap.before : ladder;
  return [
    { label: payLabel(pay, line, working), figure: say(promised ?? before), weight: 'part' },
    ...limitRow(column, promised ?? before, before),
    ...capRow(column),
  ];
}

function nameOf({ steps: { uplift }, names }: Column): string {
  return names && uplift!.label ? `Uplift ${uplift!.label}` : 'Uplift';
}

/** How an uplift's cap reads beside it. */
function capInWords(
  { cap, earlier }: NonNullable<Steps['uplift']>,
  isCut: boolean,
  say: Column['say'],
): string {
  if (cap === undefined || cap === null) return '';
  const before = earlier ? `, of which earlier payments earned ${say(earlier)}` : '';
  return `, at most ${say(cap)} an order${before}, ${isCut ? 'this line’s share of it' : 'not passed'}`;
}

/** What an uplift adds to what the ladder gives. */
function upliftRows(column: Column): SumRow[] {
  const { line, working, steps, say } = column;
  const uplift = steps.uplift!;
  const { pay } = uplift;
  const added = line.amount - steps.ladder;
  const share = pay.type === 'flat-order' && working.lines.length > 1 ? ', this line’s share' : '';
  const isCut = (uplift.uncapped ?? added) > added;
  const what = describePay(pay, working.base, working.event);
  const how = uplift.mode === 'plus' ? 'plus' : 'up to';
  const label = `${nameOf(column)}: ${how} ${what}${share}${capInWords(uplift, isCut, say)}`;
  if (isCut) return [{ label, figure: say(added), weight: 'part' }];
  if (uplift.mode === 'up-to')
    return [{ label: `${label}, that is ${say(line.amount)}`, figure: say(added), weight: 'part' }];
  const promised = pay.type === 'percent' ? percentOf(line.base, pay.ppm) : (uplift.flat ?? added);
  return [{ label, figure: say(promised), weight: 'part' }, ...limitRow(column, promised, added)];
}

/** The percentage that an uplift's was added to before they were rounded, once; null where each stands for itself. */
function mergedWith({ line, steps }: Column): number | null {
  const { pay, ladder, uplift } = steps;
  if (!uplift || uplift.mode !== 'plus' || uplift.pay.type !== 'percent') return null;
  if ((uplift.uncapped ?? 0) > line.amount - ladder || isCutByCap(steps)) return null;
  return pay === null ? 0 : pay.type === 'percent' ? pay.ppm : null;
}

function mergedRows(column: Column, ppm: number): SumRow[] {
  const { line, steps, say } = column;
  const by = (steps.uplift!.pay as Extract<Pay, { type: 'percent' }>).ppm;
  const sum = percentOf(line.base, ppm + by);
  const cap = steps.uplift!.cap ?? null;
  const parts = `${ppm > 0 ? `${formatPercent(ppm)} and ` : ''}${nameOf(column)}: plus ${formatPercent(by)}${cap === null ? '' : `, at most ${say(cap)} an order, not passed`}`;
  return [
    { label: `× ${formatPercent(ppm + by)}, rounded (${parts})`, figure: say(sum), weight: 'part' },
    ...limitRow(column, sum, line.amount),
    ...capRow(column),
  ];
}

/** Workings that were kept before there were bands, caps and uplifts say no steps: their one reward is what they had. */
function stepsFrom(line: LineWorking): Steps {
  if (line.steps) return line.steps;
  return {
    pay: line.reward && line.reward.type !== 'composed' ? line.reward : null,
    band: null,
    ladder: line.amount,
    cap: null,
    uplift: null,
  };
}

function rewardRows(line: LineWorking, working: Working, names: boolean): SumRow[] {
  const say = (amount: number) => formatMoney({ amount, currency: working.base });
  const steps = stepsFrom(line);
  const column: Column = { line, working, steps, names, say };
  const { band, uplift } = steps;
  const rows: SumRow[] = band
    ? [
        {
          label: `Band from ${say(band.from)}, reached by the order’s ${say(band.worth)}`,
          figure: '',
          weight: 'step',
        },
      ]
    : [];
  const merged = mergedWith(column);
  if (merged !== null) return [...rows, ...mergedRows(column, merged)];
  rows.push(...ladderRows(column));
  if (uplift) rows.push(...upliftRows(column));
  else if (line.steps && line.uplifts?.length === 0)
    rows.push({ label: 'Uplift: none on this day', figure: '—', weight: 'aside' });
  return rows;
}

function sumsOf(line: LineWorking, working: Working, names: boolean): SumRow[] {
  const foreign = (amount: number) => formatMoney({ amount, currency: working.currency });
  const base = (amount: number) => formatMoney({ amount, currency: working.base });
  const commission: SumRow = { label: 'Commission', figure: base(line.amount), weight: 'sum' };
  if (working.event === 'click') return [...rewardRows(line, working, names), commission];
  const rows: SumRow[] = [
    {
      label: line.quantity > 1 ? `Price paid, ${line.quantity} units` : 'Price paid',
      figure: foreign(line.gross),
      weight: 'part',
    },
  ];
  if (line.discount) rows.push({ label: 'Discount', figure: foreign(-line.discount), weight: 'part' });
  rows.push({ label: 'Commissionable', figure: foreign(line.value), weight: 'sum' });
  if (working.currency !== working.base)
    rows.push({
      label: `÷ ${formatRate(working.rateMicros)} ${working.currency} for 1 ${working.base}`,
      figure: base(line.base),
      weight: 'step',
    });
  return [...rows, ...rewardRows(line, working, names), commission];
}

interface RungRows {
  rung: string;
  rows: { text: string; outcome: ConsideredOutcome; why: string }[];
}

/** A rate kept in an old working lacks what rates gained since. */
function said(rate: Rate, base: string): string {
  return describeRate(
    {
      reward: rate.reward,
      event: rate.event,
      payments: rate.payments ?? null,
      cap: rate.cap ?? null,
      mode: rate.mode ?? 'base',
    },
    base,
  );
}

function rungRows(line: LineWorking, working: Working, names: boolean): RungRows[] {
  const row = ({ rate, outcome, why }: Considered) => ({
    text: `${names && rate.label && rate.label !== rungNames[rate.rung] ? `${rate.label}: ` : ''}${said(rate, working.base)}`,
    outcome,
    why: describeRateReason(why, { payments: rate.payments ?? null }, working.base),
  });
  const ladder = line.rungs.map(({ rung, considered, remark }): RungRows => ({
    rung: rungNames[rung],
    rows: considered.length
      ? considered.map(row)
      : [{ text: remark ?? nothingOn[rung], outcome: 'does-not-apply', why: '' }],
  }));
  return line.uplifts?.length ? [...ladder, { rung: 'Uplift', rows: line.uplifts.map(row) }] : ladder;
}

/** A working in words and columns: what a person reads who asks why. @param names false for affiliates: what the merchant calls its rates is its own */
export function presentLines(working: Working, names = true): PresentedLine[] {
  return working.lines.map((line) => ({
    product: line.name,
    locked: line.locked,
    reason: wordsOf(line),
    sums: sumsOf(line, working, names),
    rungs: rungRows(line, working, names),
  }));
}

/** A share of a line as a column of sums: of what it is a percent, then the amount. @param base currency @param who the affiliate whose sale it is */
export function presentShare(
  share: Pick<Share, 'kind' | 'ppm' | 'of' | 'basis' | 'amount'>,
  base: string,
  who: string | null,
): SumRow[] {
  const money = (amount: number) => formatMoney({ amount, currency: base });
  const promised = percentOf(share.basis, share.ppm);
  const basis =
    share.of === 'sale'
      ? 'Commissionable value of the sale'
      : share.of === 'commission'
        ? `Commission of ${who ?? 'the affiliate'}`
        : 'Left of the sale after commission and referral share';
  return [
    { label: basis, figure: money(share.basis), weight: 'step' },
    { label: `× ${formatPercent(share.ppm)}, rounded`, figure: money(promised), weight: 'part' },
    ...(promised > share.amount
      ? [
          {
            label: 'Limited to what the sale leaves',
            figure: money(share.amount - promised),
            weight: 'part' as const,
          },
        ]
      : []),
    {
      label: share.kind === 'referral' ? 'Referral share' : 'Co-owner share',
      figure: money(share.amount),
      weight: 'sum',
    },
  ];
}

/** A working in one text, for a cell of a table: "Wheel: Card 12 %, decides; Price paid €199.00, × 12 %, rounded €23.88, Commission €23.88". */
export function workingInWords(working: Working): string {
  return presentLines(working)
    .map((line) => {
      const won = line.rungs.flatMap((r) =>
        r.rows.filter((row) => row.outcome === 'wins').map((row) => `${r.rung} ${row.text}, ${row.why}`),
      );
      const sums = line.sums.filter((s) => s.weight !== 'aside').map((s) => `${s.label} ${s.figure}`.trim());
      return `${line.product}: ${[won.join(', ') || line.reason || 'no rate', sums.join(', ')].join('; ')}`;
    })
    .join(' | ');
}

/** The exchange of a working in words, or null in base currency. */
export function presentExchange(working: Working): string | null {
  return working.currency === working.base
    ? null
    : `1 ${working.base} = ${formatRate(working.rateMicros)} ${working.currency} on the day of the order`;
}
