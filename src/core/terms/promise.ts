import { convertFromBase, convertToBase, largestAmount } from '../money/amount';
import { percentOf, wholePpm } from '../money/percent';
import { isFor, ladderFor, winner, type Book, type Question } from './book';
import { covers, fitOf, type AffiliateTerms, type Event, type Pay, type Rate, type Sold } from './rate';
import { amountsOf } from './resolve';
import { upliftsFor } from './uplift';

/**
 * Orders from one value on, and what each of them pays: a percentage of its value, an amount once an order, and an amount
 * for each unit. Together never more than the order is worth.
 */
export interface Stretch {
  /** the least value, minor units of base; 0 = from the first */
  from: number;
  /** parts per million of the value */
  ppm: number;
  /** once an order, minor units of base */
  flat: number;
  /** for each unit, minor units of base */
  unit: number;
  /** the most that all units of an order earn, minor units of base; null = no limit */
  unitsMost: number | null;
  /** true where more units of the same value pay by another rule: the stretch holds for one unit only */
  isForOne: boolean;
  /** what is promised to orders in other currencies instead of `flat` and `unit`, minor units of each */
  also: Readonly<Record<string, number>>;
}

const nothing: Stretch = {
  ...{ from: 0, ppm: 0, flat: 0, unit: 0 },
  ...{ unitsMost: null, isForOne: false, also: {} },
};

/** Who is promised, on what, by which terms, and when. */
export interface PromiseQuestion {
  book: Book;
  terms: AffiliateTerms;
  sold: Sold;
  event: Event;
  /** 1 = the first */
  payment: number;
  /** UTC milliseconds */
  at: number;
  /** the currency of the programme */
  base: string;
}

/** What an order of one line pays by a stretch, minor units of base; a lead or a click has no value that it could exceed. */
export function paidBy(stretch: Stretch, { value, units }: { value: number; units: number }): number {
  const { ppm, flat, unit, unitsMost } = stretch;
  return percentOf(value, ppm) + flat + Math.min(unit * units, unitsMost ?? Number.MAX_SAFE_INTEGER);
}

/** A line through amounts by value: so much of the value, and so much beside. */
interface Line {
  ppm: number;
  flat: number;
}

/** The whole of the order: what a reward comes to where it would be more than the order is worth. */
const whole: Line = { ppm: wholePpm, flat: 0 };
/** So much more than any price that what lies beyond is of no interest. */
const farOff = 1_000_000_000;
const isValueless = (event: Event): boolean => event === 'lead' || event === 'click';

/** Asks the resolver what one line pays. @param rateMicros how much of another currency one unit of base buys, × 1,000,000 */
function payIn(
  { book, terms, sold, event, payment, at, base }: PromiseQuestion,
  {
    value,
    units,
    currency,
    rateMicros,
  }: Record<'value' | 'units' | 'rateMicros', number> & { currency: string },
): number {
  return amountsOf(book, terms, {
    ...{ event, at, payment, currency, base, rateMicros },
    lines: [{ ...sold, name: '', quantity: units, amount: value, discount: 0, approved: true }],
  })[0]!;
}

type Pays = (value: number, units?: number) => number;

/** What orders in base pay; each order is resolved once. */
function paying(question: PromiseQuestion): Pays {
  const known = new Map<string, number>();
  return (value, units = 1) => {
    const key = `${value} ${units}`;
    const before = known.get(key);
    if (before !== undefined) return before;
    const paid = payIn(question, { value, units, currency: question.base, rateMicros: 1_000_000 });
    known.set(key, paid);
    return paid;
  };
}

const questionFor = ({ sold, event, payment, at }: PromiseQuestion, value: number): Question => ({
  ...{ event, payment, at },
  rows: [{ line: { ...sold, approved: true }, base: value }],
});

/** Every rate that can pay for what is sold, or raise it, whenever and whichever payments it is for. */
export const ratesOf = ({
  book,
  terms,
  sold,
  event,
}: Pick<PromiseQuestion, 'book' | 'terms' | 'sold' | 'event'>): Rate[] => [
  ...ladderFor(book[event], terms, sold),
  ...(sold.locked ? [] : book[event].uplifts.filter((u) => isFor(u, terms) && covers(u.what, sold))),
];

const paysOf = ({ reward }: Rate): readonly Pay[] =>
  reward.type === 'bands' ? reward.bands.map((band) => band.pay) : [reward];

/** Values at which another band begins, from 0 on, in rising order. */
function edgesOf(question: PromiseQuestion): number[] {
  const { payment, at } = question;
  const edges = ratesOf(question).flatMap((rate) =>
    rate.reward.type === 'bands' && ['applies', 'below-bands'].includes(fitOf(rate, at, payment, []))
      ? rate.reward.bands.map((band) => band.from)
      : [],
  );
  return [...new Set([0, ...edges])].sort((a, b) => a - b);
}

const lineOf = (pay: Pay): Line =>
  pay.type === 'percent' ? { ppm: pay.ppm, flat: 0 } : { ppm: 0, flat: pay.amount };

/** The lines along which the ladder can pay where one rate decides: its reward, its cap, the whole of the order. */
function ladderLines(rate: Rate | null, value: number): Line[] {
  if (!rate) return [{ ppm: 0, flat: 0 }];
  const { reward, cap } = rate;
  const pay = reward.type === 'bands' ? reward.bands.findLast((band) => band.from <= value)?.pay : reward;
  return [
    { ppm: 0, flat: 0 },
    ...(pay ? [lineOf(pay)] : []),
    ...(cap === null ? [] : [{ ppm: 0, flat: cap }]),
  ];
}

const sum = (a: Line, b: Line): Line => ({ ppm: a.ppm + b.ppm, flat: a.flat + b.flat });

/** The lines along which an uplift can pay on top of the ladder's. */
function raisedLines({ mode, reward, cap }: Rate, ladder: readonly Line[]): Line[] {
  const own = lineOf(reward as Pay);
  const most = cap === null ? [] : [{ ppm: 0, flat: cap }];
  return [
    ...(mode === 'up-to' ? [own] : ladder.map((line) => sum(line, own))),
    ...most.flatMap((limit) => [...ladder, whole].map((line) => sum(line, limit))),
  ];
}

/** Every line along which orders from one value on may pay, until the next band begins. */
function linesFrom(question: PromiseQuestion, value: number): Line[] {
  const { book, terms, sold } = question;
  const rate = winner(book, terms, sold, questionFor(question, value));
  const ladder = ladderLines(rate, value);
  const uplifts = sold.locked
    ? []
    : upliftsFor(book, terms, questionFor(question, value)).filter((u) => covers(u.what, sold));
  const all = [...ladder, ...uplifts.flatMap((u) => raisedLines(u, ladder)), whole];
  const known = new Map(all.map((line) => [`${line.ppm} ${line.flat}`, line]));
  return [...known.values()].filter((line) => line.ppm <= wholePpm);
}

/** Values between two at which lines cross, in rising order. */
function crossings(lines: readonly Line[], from: number, until: number): number[] {
  const found = new Set<number>();
  lines.forEach((a, i) => {
    for (const b of lines.slice(i + 1)) {
      if (a.ppm === b.ppm) continue;
      const value = Math.ceil(((b.flat - a.flat) * wholePpm) / (a.ppm - b.ppm));
      if (value > from && value < until) found.add(value);
    }
  });
  return [...found].sort((a, b) => a - b);
}

const along = ({ ppm, flat }: Line, value: number): number => Math.min(value, percentOf(value, ppm) + flat);

/** Values at which a stretch is looked at: near both ends, where rounding does not blur them, and between. */
function probesOf(from: number, until: number): number[] {
  const [low, high] = [from + Math.min(2, until - from - 1), Math.max(from, until - 3)];
  return [...new Set([low, Math.floor((low + high) / 2), high])].filter((v) => v >= from && v < until);
}

/** A line along which orders pay from one value on, and the values at which it was held against the resolver. */
interface Piece extends Line {
  from: number;
  probes: number[];
}

/** How far a line is from what is paid, over some values; null where it is off by more than the rounding of one sum. */
function offBy(line: Line, probes: readonly number[], pays: Pays): number | null {
  const off = probes.map((value) => Math.abs(along(line, value) - pays(value)));
  return off.every((by) => by <= 1) ? off.reduce((a, b) => a + b, 0) : null;
}

/** Pieces of a band of values, each along one line. */
function piecesOf(question: PromiseQuestion, from: number, until: number): Piece[] {
  const pays = paying(question);
  const lines = linesFrom(question, from);
  const starts = [from, ...crossings(lines, from, until)];
  const pieces: Piece[] = [];
  starts.forEach((start, i) => {
    const probes = probesOf(start, starts[i + 1] ?? until);
    const fitting = lines
      .flatMap((line) => {
        const off = offBy(line, probes, pays);
        return off === null ? [] : [{ line, off }];
      })
      .sort((a, b) => a.off - b.off);
    const before = pieces.at(-1);
    const still = before ? offBy(before, probes, pays) : null;
    if (before && still !== null && still <= (fitting[0]?.off ?? still)) before.probes.push(...probes);
    else if (fitting[0]) pieces.push({ ...fitting[0].line, from: start, probes });
  });
  return withoutLimits(pieces, pays);
}

/** Pieces without those that only say that nothing pays more than the order is worth. */
function withoutLimits(pieces: readonly Piece[], pays: Pays): Piece[] {
  const kept: Piece[] = [];
  for (const piece of [...pieces].reverse()) {
    const next = kept.at(-1);
    if (next && offBy(next, piece.probes, pays) === 0)
      kept[kept.length - 1] = { ...next, from: piece.from, probes: [...piece.probes, ...next.probes] };
    else kept.push(piece);
  }
  return kept.reverse();
}

/** Amounts for each unit that rates in play promise: one rate's, or one on top of another's. */
function unitAmounts(question: PromiseQuestion): number[] {
  const isForEach = (pay: Pay) =>
    pay.type === 'flat-unit' || (question.event === 'click' && pay.type === 'flat-order');
  const own = ratesOf(question)
    .flatMap(paysOf)
    .flatMap((pay) => (pay.type !== 'percent' && isForEach(pay) ? [pay.amount] : []));
  return [...new Set(own.flatMap((a) => [a, ...own.map((b) => a + b)]))];
}

/** Currencies in which amounts of their own are promised. */
const currenciesOf = (question: PromiseQuestion): string[] => [
  ...new Set(
    ratesOf(question)
      .flatMap(paysOf)
      .flatMap((pay) => (pay.type === 'percent' ? [] : Object.keys(pay.also ?? {}))),
  ),
];

/** What is promised to orders in other currencies of their own: an amount that does not follow the exchange rate. */
function alsoOf(question: PromiseQuestion, { ppm }: Line, value: number): Record<string, number> {
  const { base } = question;
  const found = currenciesOf(question).flatMap((currency): [string, number][] => {
    const paid = (rateMicros: number) => {
      const amount = convertFromBase(value, currency, base, rateMicros);
      const own = convertToBase(amount, currency, base, rateMicros);
      return payIn(question, { value: amount, units: 1, currency, rateMicros }) - percentOf(own, ppm);
    };
    // half as much of the currency for one unit of base doubles what is fixed in that currency, and nothing else
    const [at, doubled] = [paid(500_000), paid(250_000)];
    return at > 0 && doubled === 2 * at ? [[currency, convertFromBase(at, currency, base, 500_000)]] : [];
  });
  return Object.fromEntries(found);
}

const manyUnits = [1, 2, 3, 7, 40, 1_000] as const;

interface UnitQuestion {
  question: PromiseQuestion;
  /** values of the stretch, in rising order */
  values: readonly number[];
  /** what a unit may be promised, minor units of base */
  amounts: readonly number[];
}

/** What of a flat amount is paid for each unit, found by asking for more units of the same values. */
function withUnits(piece: Line & { from: number }, { question, values, amounts }: UnitQuestion): Stretch {
  const { from, ppm, flat } = piece;
  const pays = paying(question);
  const highest = values.at(-1)!;
  const most = pays(highest, manyUnits.at(-1)) - percentOf(highest, ppm);
  const limit = (value: number) => (isValueless(question.event) ? Number.MAX_SAFE_INTEGER : value);
  const fits = (stretch: Stretch) =>
    values.every((value) =>
      manyUnits.every((units) => {
        const expected = Math.min(limit(value), paidBy(stretch, { value, units }));
        return Math.abs(expected - pays(value, units)) <= 1;
      }),
    );
  const also = alsoOf(question, piece, highest);
  const plain: Stretch = { ...nothing, from, ppm, flat, also };
  if (fits(plain)) return plain;
  for (const unit of amounts.filter((amount) => amount > 0 && amount <= flat)) {
    const ofUnits = { ...plain, flat: flat - unit, unit };
    if (fits(ofUnits)) return ofUnits;
    const limited = { ...ofUnits, unitsMost: most - ofUnits.flat };
    if (fits(limited)) return limited;
  }
  return { ...plain, isForOne: true };
}

/** Values of a stretch at which more units are tried: at its ends, far out where it has none, and between. */
function valuesIn(from: number, until: number): number[] {
  if (until < farOff) {
    const steps = [0.02, 0.2, 0.4, 0.6, 0.7, 0.8, 0.9, 0.97, 1];
    return [...new Set(steps.map((part) => from + Math.floor((until - 1 - from) * part)))];
  }
  const far = [from + 2, 2 * from + 500, 5 * from + 5_000, 20 * from + 100_000];
  return [...far, largestAmount / 100];
}

/**
 * What orders of one line pay, by their value: found by asking the resolver at the values where rates can bend, so that
 * it holds whatever stands behind it. Amounts in minor units of base.
 */
export function promiseOf(question: PromiseQuestion): Stretch[] {
  const amounts = unitAmounts(question);
  if (isValueless(question.event)) {
    const piece = { from: 0, ppm: 0, flat: paying(question)(0) };
    return [withUnits(piece, { question, values: [0], amounts })];
  }
  const edges = edgesOf(question);
  const pieces = edges.flatMap((from, i) => piecesOf(question, from, edges[i + 1] ?? farOff));
  const merged = pieces.filter(
    ({ ppm, flat }, i) => i === 0 || pieces[i - 1]!.ppm !== ppm || pieces[i - 1]!.flat !== flat,
  );
  if (amounts.length === 0 && currenciesOf(question).length === 0)
    return merged.map(({ from, ppm, flat }) => ({ ...nothing, from, ppm, flat }));
  return merged.map((piece, i) =>
    withUnits(piece, {
      question,
      values: valuesIn(piece.from, merged[i + 1]?.from ?? farOff),
      amounts,
    }),
  );
}
