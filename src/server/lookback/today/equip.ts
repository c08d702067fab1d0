import type { TodayOut } from '../../../contract/lookback/today';
import { formatAge, formatDay } from '../../../core/calendar/format';
import { couponsThere } from '../../equip/coupons/store';
import { showCoupons } from '../../equip/coupons/view';
import { countBare, lacksCoupon, lastCouponAt } from '../../equip/coverage/coverage';
import { contradictingNow } from '../../equip/creatives/contradicting';
import { countOpenRequests } from '../../equip/requests/store';
import type { App } from '../../ground/context';
import { theProgramme } from '../../registers/programme/record';

type Waiting = TodayOut['waiting'][number];

const line = (row: Omit<Waiting, 'amount' | 'mark'>): Waiting => ({ ...row, amount: null, mark: 'waiting' });

function asked(app: App): Waiting[] {
  const { count, oldest } = countOpenRequests(app);
  if (!count) return [];
  return [
    line({
      kind: 'requests',
      count,
      text: `${count} ${count === 1 ? 'request' : 'requests'} for material`,
      more: oldest === null ? '' : `oldest ${formatAge(oldest, app.clock.now())}`,
      to: '/creatives/requests',
      act: 'answer',
    }),
  ];
}

function wrongWords(app: App): Waiting[] {
  const wrong = contradictingNow(app);
  const count = wrong.length;
  const [first] = wrong;
  if (!first) return [];
  return [
    line({
      kind: 'material',
      count,
      text: `${count} ${count === 1 ? 'creative contradicts' : 'creatives contradict'} your terms`,
      more: `${first.name}${count > 1 ? ' and others' : ''}: a percent, a price, an end or a code`,
      to: '/creatives?state=contradicts',
      act: 'fix',
    }),
  ];
}

function bareProducts(app: App): Waiting[] {
  const { count, first } = countBare(app);
  if (!count) return [];
  return [
    line({
      kind: 'material',
      count,
      text: count === 1 ? `${first ?? ''} has no material` : `${count} products have no material`,
      more: 'on sale, and nothing to promote it with',
      to: '/creatives/coverage',
      act: 'fill',
    }),
  ];
}

function couponsToLookAt(app: App): Waiting[] {
  const wrong = showCoupons(app, couponsThere(app)).rows.filter((c) => c.warning !== null);
  const [first] = wrong;
  if (!first) return [];
  return [
    line({
      kind: 'coupons',
      count: wrong.length,
      text: `${wrong.length} ${wrong.length === 1 ? 'coupon' : 'coupons'} to look at`,
      more: `${first.code}: ${first.warning!.replace(/\.$/, '').replace(/^It/, 'it')}${wrong.length > 1 ? ', and others' : ''}`,
      to: '/coupons?only=warning',
      act: 'look',
    }),
  ];
}

/** A programme that had coupons, and none that began lately. */
function noFreshCoupon(app: App): Waiting[] {
  const last = lastCouponAt(app);
  if (last === null || !lacksCoupon(app)) return [];
  return [
    line({
      kind: 'material',
      count: 1,
      text: 'No fresh coupon',
      more: `none began since ${formatDay(last, theProgramme(app).zone)}`,
      to: '/coupons?new=1',
      act: 'make one',
    }),
  ];
}

/** What of material and coupons waits for a person. */
export const equipSections: readonly [string, (app: App) => Waiting[]][] = [
  ['Requests', asked],
  ['Contradictions', wrongWords],
  ['Coverage', bareProducts],
  ['Coupons', couponsToLookAt],
  ['Fresh coupon', noFreshCoupon],
];
