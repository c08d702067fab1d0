import type { FieldFault } from '../../../contract/explain';
import {
  couponFaults,
  trimmedCoupon,
  type CouponFault,
  type CouponFields,
} from '../../../core/material/coupon';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { atField, invalid } from '../../ground/http/problem';
import { keptProducts } from '../../registers/catalogue/store';
import { affiliateMaybe } from '../../registers/people/record';
import { theProgramme } from '../../registers/programme/record';
import { audienceFaults } from '../audience/audience';
import { couponsThere } from './store';

/** Another coupon of this code that holds at some of the same time: a code can come again once it is over. */
function codeFaults(app: App, { code, from, until }: CouponFields, own: Id<'coupon'> | null): CouponFault[] {
  const [begin, end] = [from ?? 0, until ?? Infinity];
  const other = couponsThere(app).find(
    (row) => row.code === code && row.id !== own && (row.from ?? 0) < end && begin < (row.until ?? Infinity),
  );
  return other
    ? [
        {
          field: 'code',
          detail: `Code: ${other.code} is there already for some of this time; end that one first, or take another code`,
          example: `${code.slice(0, 26)}-2`,
        },
      ]
    : [];
}

function ownerFaults(app: App, { owner }: CouponFields): CouponFault[] {
  if (owner === null) return [];
  const row = affiliateMaybe(app, owner);
  if (!row) return [{ field: 'owner', detail: 'Owner: this affiliate does not exist' }];
  return row.state === 'ended' || row.state === 'blocked'
    ? [{ field: 'owner', detail: `Owner: ${row.name} is ${row.state}, and can own none` }]
    : [];
}

function productFaults(app: App, { products }: CouponFields): CouponFault[] {
  const known = new Set(keptProducts(app).map((p) => p.id));
  return products.some((id) => !known.has(id))
    ? [{ field: 'products', detail: 'Products: one of them does not exist' }]
    : [];
}

/** Every fault of a coupon, each at its field. @param own the coupon itself, where it is there already */
export function couponFaultsOf(app: App, fields: CouponFields, own: Id<'coupon'> | null): FieldFault[] {
  return [
    ...[
      ...couponFaults(fields, theProgramme(app).landingHosts),
      ...codeFaults(app, fields, own),
      ...ownerFaults(app, fields),
      ...productFaults(app, fields),
    ].map(atField),
    ...audienceFaults(app, fields.audience),
  ];
}

/** A coupon as it is kept. @throws Problem `invalid` with every fault at its field */
export function checkedCoupon(app: App, input: CouponFields, own: Id<'coupon'> | null): CouponFields {
  const fields = trimmedCoupon(input);
  const faults = couponFaultsOf(app, fields, own);
  if (faults.length) throw invalid(faults);
  return fields;
}
