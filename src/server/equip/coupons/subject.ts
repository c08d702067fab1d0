import { formatMoment } from '../../../core/calendar/format';
import {
  couponFields,
  couponFieldWords,
  givesWords,
  trimmedCoupon,
  type CouponField,
  type CouponFields,
} from '../../../core/material/coupon';
import { formatMoney } from '../../../core/money/amount';
import { formatPercent } from '../../../core/money/percent';
import { isId } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { keptProducts } from '../../registers/catalogue/store';
import { affiliateMaybe } from '../../registers/people/record';
import { theProgramme } from '../../registers/programme/record';
import { audienceNames, audienceWords } from '../audience/audience';
import type { Fields, Found, Subject } from '../planned/subject';
import { couponFaultsOf } from './check';
import { changeCoupon, couponFieldsOf, couponMaybe, type CouponRecord } from './store';

const over = (row: CouponRecord, fields: Fields): CouponFields => ({
  ...couponFieldsOf(row),
  ...(fields as Partial<CouponFields>),
});

/** Values of fields in words, beside the other fields that the coupon has. */
function valueReader(app: App, row: CouponRecord): Found['read'] {
  const { zone, base } = theProgramme(app);
  const moment = (at: number | null, none: string) => (at === null ? none : formatMoment(at, zone));
  const names = new Map<string, string>(keptProducts(app).map((p) => [p.id, p.name]));
  const read: Partial<Record<CouponField, (fields: CouponFields) => string>> = {
    gives: (fields) => givesWords({ ...fields, least: null }, base),
    value: ({ gives, value }) =>
      gives === 'percent' ? formatPercent(value) : formatMoney({ amount: value, currency: base }),
    least: ({ least }) => (least === null ? 'none' : formatMoney({ amount: least, currency: base })),
    products: ({ products }) =>
      products.map((id) => names.get(id) ?? 'one that is gone').join(', ') || 'everything',
    landing: ({ landing }) => landing || 'the page of its product',
    owner: ({ owner }) => (owner === null ? 'nobody' : (affiliateMaybe(app, owner)?.name ?? 'somebody')),
    audience: ({ audience }) => audienceWords(audience, audienceNames(app, [audience])),
    applied: ({ applied }) => (applied ? 'yes' : 'no'),
    active: ({ active }) => (active ? 'on' : 'off'),
    from: ({ from }) => moment(from, 'at once'),
    until: ({ until }) => moment(until, 'no end'),
  };
  return (field, value) => {
    const own = read[field as CouponField];
    if (own) return own(over(row, { [field]: value }));
    return typeof value === 'string' && value !== '' ? value.slice(0, 80) : 'nothing';
  };
}

export function couponFound(app: App, row: CouponRecord): Found {
  return {
    name: row.code,
    removed: row.removedAt !== null,
    fields: { ...couponFieldsOf(row) },
    from: row.from,
    until: row.until,
    own: couponFields,
    called: (field) => couponFieldWords[field as CouponField] ?? field,
    read: valueReader(app, row),
    trimmed: (fields) => ({ ...trimmedCoupon(over(row, fields)) }),
    faults: (fields) => couponFaultsOf(app, over(row, fields), row.id),
  };
}

/** Coupons, whose fields can be planned to change. */
export const couponSubject: Subject = {
  find: (app, id) => {
    const row = isId(id, 'coupon') ? couponMaybe(app, id) : undefined;
    return row ? couponFound(app, row) : null;
  },
  change: (app, id, changes) => {
    const row = isId(id, 'coupon') ? couponMaybe(app, id) : undefined;
    if (row) changeCoupon(app, row, trimmedCoupon(over(row, changes)));
  },
  action: 'coupon-changed',
};
