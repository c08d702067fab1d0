import { convertFromBase } from '../money/amount';
import { wholePpm } from '../money/percent';
import { covers, type Event, type Pay, type Rate, type Sold } from './rate';

/** An order that the resolver is asked about: one line of so many units. */
export interface SampleOrder {
  quantity: number;
  /** the value of the line, minor units of `currency` */
  amount: number;
  currency: string;
  /** how much of the currency one unit of base buys, × 1,000,000 */
  rateMicros: number;
}

/** Currencies that orders can be in beside base, each with its exchange rate: how much of it one unit of base buys, × 1,000,000. */
export type Exchange = ReadonlyMap<string, number>;

/** Units of a product that are asked about: a flat reward and a cap differ from a percentage with the second and the tenth. */
const quantities = [1, 2, 10] as const;

const paysOf = ({ reward }: Rate): readonly Pay[] =>
  reward.type === 'bands' ? reward.bands.map((band) => band.pay) : [reward];

/** The least value whose percentage, rounded to the minor unit, is more than a cap. */
const biteOf = (cap: number, ppm: number): number => Math.ceil(((2 * cap + 1) * wholePpm) / (2 * ppm));

/** Values at which one of some rates bends, minor units of base: the edges of order bands, and where a percentage reaches a cap. */
function valuesOf(rates: readonly Rate[]): number[] {
  const base = rates.filter((r) => r.mode === 'base').flatMap(paysOf);
  const ladder = base.flatMap((pay) => (pay.type === 'percent' ? [pay.ppm] : []));
  return rates.flatMap((rate) => {
    const edges = rate.reward.type === 'bands' ? rate.reward.bands.map((band) => band.from) : [];
    const { cap } = rate;
    if (cap === null) return edges;
    // a raise up to a percentage adds what the ladder leaves of it
    const below = rate.mode === 'up-to' ? [0, ...ladder] : [0];
    const reached = paysOf(rate).flatMap((pay) =>
      pay.type === 'percent'
        ? below.flatMap((ppm) => (pay.ppm > ppm ? [biteOf(cap, pay.ppm - ppm)] : []))
        : [],
    );
    return [...edges, ...reached];
  });
}

/** Units at which a flat reward for each of them reaches a cap. */
const unitsOf = (rates: readonly Rate[]): number[] =>
  rates.flatMap((rate) =>
    paysOf(rate).flatMap((pay) =>
      rate.cap !== null && pay.type === 'flat-unit' && pay.amount > 0
        ? [Math.floor(rate.cap / pay.amount) + 1]
        : [],
    ),
  );

/** True where what a rate pays depends on nothing but the value, in proportion: one order says all. */
const isPlain = (rate: Rate): boolean =>
  rate.cap === null && rate.reward.type === 'percent' && rate.mode !== 'up-to';

/** The largest value that is asked about, minor units: within what the resolver computes exactly. */
const largest = 1_000_000_000_000;

/**
 * The orders of one thing sold at which what it earns may bend, under any of some rates: one, two and ten units at its
 * price, the edges of order bands and the values at which a cap bites, each with a minor unit below and above, and the
 * same units in every currency with an amount of its own.
 * @param price minor units of base @param rates those of the event, of the terms before and after
 */
export function sampleOrders(
  rates: readonly Rate[],
  { sold, event, price }: { sold: Sold; event: Event; price: number },
  { base, exchange }: { base: string; exchange: Exchange },
): SampleOrder[] {
  const own = rates.filter((r) => r.event === event && covers(r.what, sold));
  const inBase = (quantity: number, amount: number): SampleOrder => ({
    ...{ quantity, amount, currency: base },
    rateMicros: 1_000_000,
  });
  if (event === 'lead' || event === 'click' || price === 0 || own.every(isPlain)) return [inBase(1, price)];
  const units = [...new Set([...quantities, ...unitsOf(own)])];
  const values = new Set(valuesOf(own).flatMap((value) => [value - 1, value, value + 1]));
  const currencies = new Set(
    own.flatMap(paysOf).flatMap((pay) => ('also' in pay ? Object.keys(pay.also ?? {}) : [])),
  );
  return [
    ...units.filter((n) => n * price <= largest).map((n) => inBase(n, n * price)),
    ...[...values]
      .filter((value) => value > 0 && value <= largest)
      .sort((a, b) => a - b)
      .map((value) => inBase(1, value)),
    ...[...currencies].flatMap((currency): SampleOrder[] => {
      const rateMicros = exchange.get(currency);
      if (rateMicros === undefined || currency === base) return [];
      const one = convertFromBase(price, currency, base, rateMicros);
      return quantities.map((quantity) => ({ quantity, amount: quantity * one, currency, rateMicros }));
    }),
  ];
}
