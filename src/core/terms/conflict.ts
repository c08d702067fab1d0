import { doOverlap, isEmpty } from '../calendar/span';
import { isSpecial, sameWhat, type Payments, type Rate } from './rate';

/** Why a rate cannot stand as it is: the field, the reason and an example that would do. */
export interface RateFault {
  field: 'reward' | 'bands' | 'cap' | 'payments' | 'until' | 'who' | 'what';
  detail: string;
  example: string;
}

function faultOfBands(rate: Rate): RateFault | null {
  if (rate.reward.type !== 'bands') return null;
  const { bands } = rate.reward;
  if (bands.length === 0)
    return { field: 'bands', detail: 'Order bands need at least one threshold', example: 'from 60.00: 10 %' };
  for (let i = 1; i < bands.length; i += 1) {
    if (bands[i]!.from === bands[i - 1]!.from)
      return {
        field: 'bands',
        detail: 'Two order bands begin at the same value; an order there could take either',
        example: 'from 60.00, from 150.00',
      };
    if (bands[i]!.from < bands[i - 1]!.from)
      return {
        field: 'bands',
        detail: 'Order bands are not in rising order',
        example: 'from 60.00, from 150.00',
      };
  }
  if (bands[0]!.from < 0)
    return { field: 'bands', detail: 'An order band cannot begin below zero', example: '60.00' };
  return bands.every((b) => paysSomething(b.pay))
    ? null
    : {
        field: 'bands',
        detail:
          'An order band pays nothing; leave the threshold out, and below the lowest the ladder goes on',
        example: '10 %',
      };
}

function paysSomething(
  pay: { type: 'percent'; ppm: number } | { type: 'flat-order' | 'flat-unit'; amount: number },
): boolean {
  return pay.type === 'percent' ? pay.ppm > 0 : pay.amount > 0;
}

/** True where a reward is a percentage above nothing; 0 % says that something earns nothing, which holds without a price. */
function ofThePrice({ reward }: Rate): boolean {
  return (reward.type === 'bands' ? reward.bands.map((b) => b.pay) : [reward]).some(
    (pay) => pay.type === 'percent' && pay.ppm > 0,
  );
}

/** A fault, where there is one. */
const where = (found: boolean, field: RateFault['field'], detail: string, example: string): RateFault[] =>
  found ? [{ field, detail, example }] : [];

function faultsOfUplift({ mode, reward }: Rate): RateFault[] {
  if (mode === 'base') return [];
  if (reward.type === 'bands')
    return where(true, 'reward', 'An uplift raises by one reward, not by order bands', '15 %');
  return where(!paysSomething(reward), 'reward', 'An uplift of nothing raises nothing', '15 %');
}

function faultsOfAmount(rate: Rate): RateFault[] {
  const { event, cap } = rate;
  return [
    ...where(
      (event === 'click' || event === 'lead') && ofThePrice(rate),
      'reward',
      `A ${event} has no price: a percentage of it pays nothing, so say an amount`,
      '0.40',
    ),
    ...where(
      cap !== null && cap <= 0,
      'cap',
      'A cap of nothing would pay nothing; set the rate to 0 % instead',
      '20.00',
    ),
  ];
}

function faultsOfPayments({ event, payments }: Rate): RateFault[] {
  if (!payments) return [];
  const { first, last } = payments;
  if (event !== 'renewal') return where(true, 'payments', 'Only renewals are counted by payment', 'renewal');
  if (first < 2) return where(true, 'payments', 'Payment 1 is the first sale; renewals begin at 2', '2');
  return where(
    last !== null && last < first,
    'payments',
    `The last payment, ${last}, comes before the first, ${first}`,
    `${first}–${first + 4}`,
  );
}

function faultsOfPlace({ rung, who, what: { type } }: Rate): RateFault[] {
  const special = isSpecial(rung);
  return [
    ...where(
      special !== (who !== null),
      'who',
      special ? 'This rung needs somebody it is for' : 'This rung is for everyone',
      special ? 'an affiliate, tag, group or card' : 'everyone',
    ),
    ...where(
      rung === 'product' && type !== 'product' && type !== 'step',
      'what',
      'The product rung covers a product or a step of a funnel',
      'a product',
    ),
    ...where(
      rung === 'programme' && type !== 'everything' && type !== 'kind',
      'what',
      'The programme rung covers everything or a kind',
      'everything',
    ),
  ];
}

/**
 * What is wrong with a rate by itself: bands out of order, an end before its start, a range of payments upside down.
 * A reward of zero is allowed on the ladder (it says that something earns nothing) and refused as an uplift.
 */
export function faultsOf(rate: Rate): RateFault[] {
  const bands = faultOfBands(rate);
  return [
    ...(bands ? [bands] : []),
    ...where(isEmpty(rate), 'until', 'The end is not after the start', 'a later day, or none for open'),
    ...faultsOfUplift(rate),
    ...faultsOfAmount(rate),
    ...faultsOfPayments(rate),
    ...faultsOfPlace(rate),
  ];
}

/** True if some payment number could take either: "nothing after" reaches to the end of the subscription. */
function sharePayments(a: Payments | null, b: Payments | null): boolean {
  const last = (p: Payments) => (p.last === null || p.after === 'nothing' ? Infinity : p.last);
  if (!a || !b) return true;
  return a.first <= last(b) && b.first <= last(a);
}

/** True if two rates of the ladder stand in the same place: same rung, who, what, event, and a payment in common. */
export function sameSlot(a: Rate, b: Rate): boolean {
  return (
    a.mode === b.mode &&
    a.rung === b.rung &&
    a.who === b.who &&
    a.event === b.event &&
    sameWhat(a.what, b.what) &&
    sharePayments(a.payments, b.payments)
  );
}

/**
 * The rate that `draft` cannot stand beside: one of the same place that begins at the same moment, so that the later start
 * would not decide; or a second one with order bands in the same place at the same time. A save that finds one is refused.
 */
export function tieWith(draft: Rate, others: readonly Rate[]): Rate | null {
  if (draft.mode !== 'base') return null;
  return (
    others.find(
      (other) =>
        other.id !== draft.id &&
        sameSlot(draft, other) &&
        doOverlap(draft, other) &&
        (other.from === draft.from || (draft.reward.type === 'bands' && other.reward.type === 'bands')),
    ) ?? null
  );
}
