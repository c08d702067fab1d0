import { describeAge, formatDay } from '../calendar/format';
import { counted } from '../text/counted';
import type { Id } from '../text/id';
import { describeKept, type Kept } from '../text/kept';
import { describeBarred } from './barred';
import type { Unpaid } from './clicks';
import type { Barred } from './lists';

/** What became of a visit that was looked at for an order. `days` is the window, `over` how far it is outside of it, in milliseconds. */
export type VisitOutcome =
  | { code: 'reported' }
  | { code: 'last' }
  | { code: 'earlier' }
  | { code: 'outside'; days: number; over: number }
  | { code: 'barred'; by: Barred };

/** Why an affiliate is credited for an order, or nobody. `age` is from the visit to the order, in milliseconds. */
export type CreditReason =
  | { code: 'visit'; age: number }
  | { code: 'last-visit'; age: number }
  | { code: 'not-counted'; affiliate: Id<'affiliate'>; why: VisitOutcome }
  | { code: 'visit-unknown' }
  | { code: 'no-visit' }
  | { code: 'first-payment'; affiliate: Id<'affiliate'>; subscription: string }
  | { code: 'first-payment-blocked'; affiliate: Id<'affiliate'>; subscription: string }
  | { code: 'first-payment-by-nobody'; subscription: string }
  | { code: 'clicks'; day: string; paid: number; unpaid: { why: Unpaid; clicks: number }[] };

/** The name of an affiliate, by its id. */
export type NameOf = (affiliate: Id<'affiliate'>) => string;

/** What became of a visit, in words. */
export function describeVisit(outcome: Kept<VisitOutcome>): string {
  return describeKept(outcome, (known) => {
    switch (known.code) {
      case 'reported':
        return 'credited: the visit that the shop reported';
      case 'last':
        return 'credited: the last visit inside the window';
      case 'earlier':
        return 'an earlier visit';
      case 'outside':
        return `outside the window of ${known.days} days by ${describeAge(known.over)}`;
      case 'barred':
        return describeBarred(known.by);
    }
  });
}

function describeUnpaid(why: Unpaid): string {
  return why.code === 'same-visitor'
    ? 'the same visitor clicked before on that day'
    : `more than ${why.most} of one network address on that day`;
}

function describeClicks({ day, paid, unpaid }: Extract<CreditReason, { code: 'clicks' }>): string {
  const more = unpaid.map(({ why, clicks }) => `; ${clicks} more not paid: ${describeUnpaid(why)}`);
  return `${counted(paid, 'counted click')} of ${formatDay(Date.parse(day), 'UTC')}, each visitor once${more.join('')}`;
}

/** Why an affiliate is credited, or nobody, in words. */
export function describeCredit(reason: Kept<CreditReason>, nameOf: NameOf): string {
  return describeKept(reason, (known) => {
    switch (known.code) {
      case 'visit':
        return `visit ${describeAge(known.age)} before the order`;
      case 'last-visit':
        return `the visitor’s last visit, ${describeAge(known.age)} before the order`;
      case 'not-counted':
        return `nobody is credited: the visit of ${nameOf(known.affiliate)} is not counted, ${describeVisit(known.why)}`;
      case 'visit-unknown':
        return 'nobody is credited: the report names a visit that is not known here';
      case 'no-visit':
        return 'nobody is credited: the report carries no visit and none is stored for the visitor';
      case 'first-payment':
        return `${nameOf(known.affiliate)} brought the first payment of subscription ${known.subscription}`;
      case 'first-payment-blocked':
        return `${nameOf(known.affiliate)}, who brought subscription ${known.subscription}, is blocked`;
      case 'first-payment-by-nobody':
        return `subscription ${known.subscription} began without an affiliate`;
      case 'clicks':
        return describeClicks(known);
    }
  });
}

/** The affiliates whose names the words of a reason ask for. */
export function affiliatesIn(reason: Kept<CreditReason>): Id<'affiliate'>[] {
  return typeof reason !== 'string' && 'affiliate' in reason ? [reason.affiliate] : [];
}
