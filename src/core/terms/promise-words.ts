import { formatMoney } from '../money/amount';
import { formatPercent } from '../money/percent';
import { paidBy, type Stretch } from './promise';
import type { PromisedPayments } from './promise-periods';
import type { Event } from './rate';

/** What the words depend on beside the amounts. */
export interface Saying {
  /** the programme's currency */
  base: string;
  event: Event;
}

const per: Record<Event, string> = {
  sale: 'an order',
  renewal: 'a payment',
  lead: 'a lead',
  click: 'a click',
};

const paysNothing = ({ ppm, flat, unit }: Stretch): boolean => ppm === 0 && flat === 0 && unit === 0;

/** What is promised to orders in other currencies: ", US$6.50 in USD". */
const alsoInWords = ({ also }: Stretch): string =>
  Object.entries(also)
    .map(([currency, amount]) => `, ${formatMoney({ amount, currency })} in ${currency}`)
    .join('');

/** What is paid for each unit: "€2.00 a unit", or a click; with its limit, if it has one. */
function unitsInWords({ ppm, flat, unit, unitsMost }: Stretch, { base, event }: Saying): string {
  const say = (amount: number) => formatMoney({ amount, currency: base });
  const each = `${say(unit)} ${event === 'click' ? per.click : 'a unit'}`;
  if (unitsMost === null) return each;
  return ppm === 0 && flat === 0
    ? `${each}, at most ${say(unitsMost)} ${event === 'click' ? 'a day' : per[event]}`
    : `${each} (at most ${say(unitsMost)})`;
}

/** What one stretch pays: "20 % + €2.00 an order". */
function stretchInWords(stretch: Stretch, saying: Saying): string {
  const { ppm, flat, unit, isForOne } = stretch;
  const parts = [
    ...(ppm ? [formatPercent(ppm)] : []),
    ...(flat ? [`${formatMoney({ amount: flat, currency: saying.base })} ${per[saying.event]}`] : []),
    ...(unit ? [unitsInWords(stretch, saying)] : []),
  ];
  return `${parts.join(' + ') || 'nothing'}${alsoInWords(stretch)}${isForOne ? ' (one unit)' : ''}`;
}

/** True where a stretch only says that what grew with the value before it grows no more. */
const isLimitOf = (stretch: Stretch, before: Stretch | undefined): boolean =>
  before !== undefined &&
  before.ppm > 0 &&
  before.unit === 0 &&
  [stretch.ppm, stretch.unit].every((n) => n === 0) &&
  Math.abs(paidBy(before, { value: stretch.from, units: 1 }) - stretch.flat) <= 1;

/**
 * What orders pay, as people read it: "30 %, at most €10.00 an order"; "4 %, from €60.00 9 %"; "nothing below €60.00, from
 * €60.00 9 %"; "30 %, from €20.00 20 % + €2.00 an order".
 */
export function promiseInWords(stretches: readonly Stretch[], saying: Saying): string {
  const say = (amount: number) => formatMoney({ amount, currency: saying.base });
  if (stretches.every(paysNothing)) return 'no commission';
  return stretches
    .map((stretch, i) => {
      if (isLimitOf(stretch, stretches[i - 1])) return `at most ${say(stretch.flat)} ${per[saying.event]}`;
      if (i > 0) return `from ${say(stretch.from)} ${stretchInWords(stretch, saying)}`;
      return paysNothing(stretch)
        ? `nothing below ${say(stretches[1]!.from)}`
        : stretchInWords(stretch, saying);
    })
    .join(', ');
}

/** The same in as few characters as a cell has: "12.5 %", "€6.00", "9 % from €60.00 …". */
export function promiseInShort(stretches: readonly Stretch[], saying: Saying): string {
  const shown = stretches.find((stretch) => !paysNothing(stretch));
  if (!shown) return 'nothing';
  const say = (amount: number) => formatMoney({ amount, currency: saying.base });
  const { ppm, flat, unit, unitsMost, from, isForOne } = shown;
  const parts = [
    ...(ppm ? [formatPercent(ppm)] : []),
    ...(flat ? [say(flat)] : []),
    ...(unit ? [`${say(unit)} ${saying.event === 'click' ? per.click : 'a unit'}`] : []),
  ];
  const start = from > 0 ? ` from ${say(from)}` : '';
  const isAll = stretches.length === 1 && unitsMost === null && !isForOne;
  return `${parts.join(' + ')}${start}${isAll ? '' : ' …'}`;
}

/** Which payments: "payment 2", "payments 3–6", "from payment 7". */
function paymentsInWords({ first, last }: PromisedPayments): string {
  if (last === null) return `from payment ${first}`;
  return first === last ? `payment ${first}` : `payments ${first}–${last}`;
}

/** What the payments after the first pay: "10 %" where all pay the same, else "payments 2–6: 10 %; then nothing". */
export function renewalsInWords(groups: readonly PromisedPayments[], base: string): string {
  const saying: Saying = { base, event: 'renewal' };
  const [only] = groups;
  if (!only) return 'no commission';
  if (groups.length === 1) return promiseInWords(only.stretches, saying);
  return groups
    .map((group, i) => {
      const isNothing = group.stretches.every(paysNothing);
      if (isNothing && i === groups.length - 1) return 'then nothing';
      const words = isNothing ? 'nothing' : promiseInWords(group.stretches, saying);
      return `${paymentsInWords(group)}: ${words}`;
    })
    .join('; ');
}

/** Words with the end of what they say, and what follows: "25 % until 31 Mar 2027, then 20 %". */
export function untilInWords(words: string, end: string, then: string): string {
  return `${words}${/[,;]/.test(words) ? ';' : ''} until ${end}, then ${then}`;
}
