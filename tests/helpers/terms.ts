import { parseAmount } from '../../src/core/money/amount';
import { parsePercent } from '../../src/core/money/percent';
import { buildBook } from '../../src/core/terms/book';
import { type OrderLine, type OrderToResolve } from '../../src/core/terms/order';
import type {
  AffiliateTerms,
  Event,
  Pay,
  Payments,
  Rate,
  Reward,
  Rung,
  What,
} from '../../src/core/terms/rate';
import { resolveWithWorking } from '../../src/core/terms/resolve-working';
import { type Working } from '../../src/core/terms/working';
import type { Id } from '../../src/core/text/id';

let serial = 0;

/** A rate with defaults: on the ladder, for first sales, always in force. */
export function rate(
  rung: Rung,
  who: Rate['who'],
  { what, reward, more = {} }: { what: What; reward: Reward; more?: Partial<Rate> | undefined },
): Rate {
  serial += 1;
  return {
    id: `rat_${String(serial).padStart(5, '0')}`,
    mode: 'base',
    rung,
    who,
    what,
    reward,
    event: 'sale',
    payments: null,
    cap: null,
    from: 0,
    until: null,
    label: `${rung} rate`,
    ...more,
  };
}

function payOf(text: string): Pay {
  const flat = /^([\d.]+)(?: or ([A-Z]{3}) ([\d.]+))? flat( a unit)?$/.exec(text);
  if (!flat) return { type: 'percent', ppm: (parsePercent(text) as { value: number }).value };
  const amount = (parseAmount(flat[1]!, 'EUR') as { value: number }).value;
  const also = flat[2]
    ? { also: { [flat[2]]: (parseAmount(flat[3]!, flat[2]) as { value: number }).value } }
    : {};
  return { type: flat[4] ? 'flat-unit' : 'flat-order', amount, ...also };
}

function rewardOf(text: string): Reward {
  if (!text.startsWith('from ')) return payOf(text);
  return {
    type: 'bands',
    bands: text.split(', ').map((band) => {
      const [, from, pay] = /^from ([\d.]+) (.+)$/.exec(band)!;
      return { from: (parseAmount(from!, 'EUR') as { value: number }).value, pay: payOf(pay!) };
    }),
  };
}

/** What a rate is on, by what is said after “on”; a rung of a product is on that product. */
function whatOf(
  rung: string,
  name: string | undefined,
  narrow: string | undefined,
  on: string | undefined,
): What {
  if (on === undefined)
    return rung === 'product' ? { type: 'product', product: `prd_${name!}` } : { type: 'everything' };
  if (narrow === 'kind') return { type: 'kind', kind: on };
  return narrow === 'step' ? { type: 'step', step: on } : { type: 'product', product: `prd_${on}` };
}

const paymentsOf = (first: string | undefined, last: string | undefined, after: string): Payments | null =>
  first === undefined
    ? null
    : { first: Number(first), last: last ? Number(last) : null, after: after as Payments['after'] };

/** @throws where what follows a stroke is none of cap, from, until */
function optionOf(option: string): Partial<Rate> {
  const [key, value] = option.split(' ');
  if (key === 'cap') return { cap: (parseAmount(value!, 'EUR') as { value: number }).value };
  if (key === 'from' || key === 'until') return { [key]: Number(value) };
  throw new Error(`Not an option of a rate: ${option}`);
}

const modes = { 'up to': 'up-to', plus: 'plus' } as const;

/** Whom a rate is for: nobody by name on the rungs that are for everybody. */
function whoOf(rung: string, name: string | undefined): Rate['who'] {
  if (rung === 'product' || rung === 'programme') return null;
  return rung === 'personal' ? `aff_${name ?? 'own'}` : `set_${name!}`;
}

/**
 * Reads a rate as a test says it:
 * "programme: 8 %" · "product A: 20 %" · "card makers: 12 %" · "group G on A: 30 %" · "personal on step up-1: 5.00 flat" ·
 * "personal: from 60.00 10 %, from 150.00 35 %" · "uplift group G on A: up to 15 %" · "uplift: plus 5.00 flat" ·
 * "product A renewal 2–6 then nothing: 10 %" · "… | cap 20.00 | from 100 | until 200". Names are ids without their prefix; the affiliate of the tests is "own".
 */
export function say(text: string): Rate {
  const [head, ...options] = text.split(' | ');
  const [, where, said] = /^(.*?): (.+)$/.exec(head!)!;
  const match =
    /^(uplift ?)?(programme|product|card|group|tag|personal)?(?: (?!on |sale|renewal|lead|click)(\S+))?(?: on (kind|step)? ?(\S+))?(?: (sale|renewal|lead|click)(?: (\d+)–(\d*)(?: then (nothing|next))?)?)?$/.exec(
      where!,
    );
  if (!match) throw new Error(`A test says a rate that cannot be read: ${text}`);
  const [, uplift, rung = 'programme', name, narrow, on, event = 'sale', first, last, after = 'next'] = match;
  const mode = /^(up to|plus) (.+)$/.exec(said!);
  if (Boolean(uplift) !== Boolean(mode)) throw new Error(`An uplift is said with “up to” or “plus”: ${text}`);
  return rate(rung as Rung, whoOf(rung, name), {
    what: whatOf(rung, name, narrow, on),
    reward: rewardOf(mode ? mode[2]! : said!),
    more: {
      event: event as Event,
      payments: paymentsOf(first, last, after),
      mode: mode === null ? 'base' : modes[mode[1] as keyof typeof modes],
      label: where!,
      ...Object.assign({}, ...options.map(optionOf)),
    },
  });
}

export const plain: AffiliateTerms = { affiliate: 'aff_own', card: null, group: null, tags: [] };

/** Reads an affiliate's terms: "card makers, group G, tags t1 t2", "group G paused". */
export function sayTerms(text: string): AffiliateTerms {
  const terms: { -readonly [K in keyof AffiliateTerms]: AffiliateTerms[K] } = { ...plain };
  for (const part of text.split(', ').filter(Boolean)) {
    const [kind, ...names] = part.split(' ');
    if (kind === 'card') terms.card = `set_${names[0]!}`;
    else if (kind === 'group') terms.group = { id: `set_${names[0]!}`, paused: names[1] === 'paused' };
    else terms.tags = names.map((name): Id<'set'> => `set_${name}`);
  }
  return terms;
}

/** Reads a line: "A 70.35", "A 2 × 15.00", "A 70.35 − 10.00", "A 70.35 at step up-1", "A 70.35 locked", "A 70.35 unapproved". */
export function sayLine(text: string, currency = 'EUR'): OrderLine {
  const match =
    /^(\S+) (?:(\d+) × )?([\d.]+)(?: − ([\d.]+))?(?: at step (\S+))?( locked)?( unapproved)?$/.exec(text);
  if (!match) throw new Error(`A test says a line that cannot be read: ${text}`);
  const [, product, quantity = '1', price, discount, step, locked, unapproved] = match;
  const minor = (t: string) => (parseAmount(t, currency) as { value: number }).value;
  return {
    product: `prd_${product!}`,
    kind: product === 'S' ? 'recurring' : 'one-off',
    name: `Product ${product}`,
    quantity: Number(quantity),
    amount: minor(price!) * Number(quantity),
    discount: discount ? minor(discount) : 0,
    approved: !unapproved,
    ...(step ? { step } : {}),
    ...(locked ? { locked: true } : {}),
  };
}

export interface Situation {
  rates: Rate[];
  terms?: AffiliateTerms;
  lines: OrderLine[];
  order?: Partial<OrderToResolve>;
}

/** Resolves a situation at the moment 1000 in euro. */
export function resolved({ rates, terms = plain, lines, order = {} }: Situation): Working {
  return resolveWithWorking(buildBook(rates), terms, {
    event: 'sale',
    at: 1000,
    currency: 'EUR',
    base: 'EUR',
    rateMicros: 1_000_000,
    lines,
    ...order,
  });
}
