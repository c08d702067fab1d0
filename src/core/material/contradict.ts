import { formatMoney, parseAmount, type Money } from '../money/amount';
import { isCurrency } from '../money/currency';
import { formatPercent } from '../money/percent';

/** A coupon as words may speak of it. */
export interface CouponFact {
  code: string;
  /** parts per million that it takes off; null where it takes off something else */
  ppm: number | null;
  /** the last day on which it holds, “2027-03-31”; null where it has no end */
  lastDay: string | null;
  isOn: boolean;
  /** it is on what the creative promotes */
  fits: boolean;
}

/** What the words of a creative are compared with. */
export interface WordFacts {
  coupons: readonly CouponFact[];
  /** present price, where it promotes one product */
  price: Money | null;
  /** the last day of the creative itself */
  lastDay: string | null;
  /** today in the programme's zone, “2027-03-12” */
  today: string;
}

/** Something that words say, and what it is. */
export interface WordContradiction {
  says: string;
  stands: string;
}

const months = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

/** “31 Mar” of a day. */
const dayWords = (day: string): string => {
  const [, month = '1', date = '1'] = day.split('-').map(Number).map(String);
  const name = months[Number(month) - 1]!;
  return `${date} ${name[0]!.toUpperCase()}${name.slice(1)}`;
};

/** Days that a text says something lasts until; of one without a year the next that comes. */
function daysIn(text: string, today: string): string[] {
  const found = [
    ...text.matchAll(
      /\b(?:until|till|ends?|before)\s+(?:(?:on|the)\s+){0,2}(?:(\d{1,2})(?:st|nd|rd|th)?\s+(?:of\s+)?([a-z]{3,9})|([a-z]{3,9})\s+(\d{1,2})(?:st|nd|rd|th)?)\b(?:,?\s+(\d{4}))?/gi,
    ),
  ];
  return found.flatMap(([, date1, name1, name2, date2, year]) => {
    const month = months.indexOf((name1 ?? name2 ?? '').slice(0, 3).toLowerCase()) + 1;
    const date = Number(date1 ?? date2);
    if (month === 0 || date < 1 || date > 31) return [];
    const rest = `${String(month).padStart(2, '0')}-${String(date).padStart(2, '0')}`;
    if (year) return [`${year}-${rest}`];
    const own = Number(today.slice(0, 4));
    return [`${today.slice(5) > rest ? own + 1 : own}-${rest}`];
  });
}

const percent = String.raw`(\d{1,3}(?:[.,]\d{1,4})?)\s?(?:%|percent|per cent)`;
const percentsOff = [
  new RegExp(String.raw`${percent}\s*(?:off|discount|less|cheaper)`, 'gi'),
  new RegExp(String.raw`(?:save|saves|saving|minus)\s+${percent}`, 'gi'),
];

/** Percents that a text says are taken off, parts per million. */
function percentsIn(text: string): number[] {
  return percentsOff.flatMap((pattern) =>
    [...text.matchAll(pattern)].map(([, digits = '']) =>
      Math.round(Number(digits.replace(',', '.')) * 10_000),
    ),
  );
}

const symbols: Record<string, string> = { EUR: '€', USD: String.raw`\$`, GBP: '£', JPY: '¥' };

// whole numbers only, each looked at once: a text of digits alone is read in its length
const amount = String.raw`(?<![\d.,])(\d{1,3}(?:,\d{3})+(?:\.\d{1,3})?|\d{1,12}(?:\.\d{1,3})?)(?!\d)`;
const amountPatterns = new Map<string, RegExp>();

/** Finds amounts of a currency; one expression for each, which is made once. */
function amountPattern(currency: string): RegExp {
  const known = amountPatterns.get(currency);
  if (known) return known;
  const sign = `(?:${[symbols[currency], currency].filter(Boolean).join('|')})`;
  const made = new RegExp(String.raw`${sign}\s?${amount}|${amount}\s?${sign}`, 'g');
  amountPatterns.set(currency, made);
  return made;
}

/** Amounts of a currency that a text names, minor units. */
function amountsIn(text: string, currency: string): number[] {
  if (!isCurrency(currency)) return [];
  return [...text.matchAll(amountPattern(currency))].flatMap(([, before, after]) => {
    const read = parseAmount((before ?? after ?? '').replaceAll(',', ''), currency);
    return read.ok ? [read.value] : [];
  });
}

/** The coupons that a text names by their codes. */
function namedIn(text: string, coupons: readonly CouponFact[]): CouponFact[] {
  const words = new Set(text.toUpperCase().match(/[A-Z0-9][A-Z0-9-]*/g) ?? []);
  return coupons.filter((coupon) => words.has(coupon.code));
}

function ofPercent(text: string, about: readonly CouponFact[]): WordContradiction[] {
  const known = about.filter((coupon) => coupon.ppm !== null);
  if (!known.length) return [];
  return percentsIn(text)
    .filter((ppm) => !known.some((coupon) => coupon.ppm === ppm))
    .map((ppm) => ({
      says: formatPercent(ppm),
      stands: `${known[0]!.code} gives ${formatPercent(known[0]!.ppm!)}`,
    }));
}

function ofDay(
  text: string,
  about: readonly CouponFact[],
  { lastDay, today }: WordFacts,
): WordContradiction[] {
  const [named] = about.filter((coupon) => coupon.lastDay !== null);
  const last = named?.lastDay ?? lastDay;
  if (!last) return [];
  const what = named ? `${named.code} lasts` : 'it lasts';
  return daysIn(text, today)
    .filter((day) => day !== last)
    .map((day) => ({ says: `until ${dayWords(day)}`, stands: `${what} until ${dayWords(last)}` }));
}

function ofPrice(text: string, price: Money | null): WordContradiction[] {
  if (!price) return [];
  const amounts = amountsIn(text, price.currency);
  // one that says the price beside another amount is right about it
  if (!amounts.length || amounts.includes(price.amount)) return [];
  return [
    {
      says: formatMoney({ amount: amounts[0]!, currency: price.currency }),
      stands: `the price is ${formatMoney(price)}`,
    },
  ];
}

/**
 * What words of a creative say otherwise than it is: a code that does not hold, a percent, an end or a price that is another. What stands in braces
 * is filled when it is read, and cannot contradict.
 */
export function contradictionsIn(text: string, facts: WordFacts): WordContradiction[] {
  const plain = text.replace(/\{[^{}]*\}/g, ' ');
  const named = namedIn(plain, facts.coupons);
  const running = named.filter((coupon) => coupon.isOn);
  const over = named.filter(({ code, isOn }) => !isOn && !running.some((other) => other.code === code));
  const about = running.length ? running : facts.coupons.filter((coupon) => coupon.isOn && coupon.fits);
  return [
    ...over.map(({ code }) => ({ says: code, stands: 'this coupon does not hold now' })),
    ...ofPercent(plain, about),
    ...ofDay(plain, about, facts),
    ...ofPrice(plain, facts.price),
  ];
}
