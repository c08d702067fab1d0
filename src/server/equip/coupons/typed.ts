import type { Static } from '@sinclair/typebox';
import type { CouponIn } from '../../../contract/equip/coupons';
import type { FieldFault } from '../../../contract/explain';
import type { CouponFields } from '../../../core/material/coupon';
import { parseAmount, toDecimal } from '../../../core/money/amount';
import { parsePercent, percentDigits } from '../../../core/money/percent';

export type CouponTyped = Static<typeof CouponIn>;

/** How much it gives: parts per million or minor units of base; 0 where it gives something else. */
function readValue({ gives, value }: CouponTyped, base: string, faults: FieldFault[]): number {
  if (gives !== 'percent' && gives !== 'amount') return 0;
  const isPercent = gives === 'percent';
  const read = isPercent
    ? parsePercent(value, 'no more than 100 can be taken off')
    : parseAmount(value, base);
  if (read.ok) return read.value;
  faults.push({
    pointer: '/value',
    detail: `${isPercent ? 'Percent' : 'Amount'}: ${read.reason}`,
    example: isPercent ? '10' : '5.00',
  });
  return 1;
}

function readLeast({ least }: CouponTyped, base: string, faults: FieldFault[]): number | null {
  if (least.trim() === '') return null;
  const read = parseAmount(least, base);
  if (read.ok) return read.value;
  faults.push({ pointer: '/least', detail: `Least order value: ${read.reason}`, example: '50.00' });
  return null;
}

/** A coupon as it was typed, with its figures read. @param base currency of amounts */
export function readTyped(typed: CouponTyped, base: string): { fields: CouponFields; faults: FieldFault[] } {
  const faults: FieldFault[] = [];
  const fields = {
    ...typed,
    value: readValue(typed, base, faults),
    least: readLeast(typed, base, faults),
  };
  return { fields, faults };
}

/** A coupon as it is typed. */
export function typedOf(fields: CouponFields, base: string): CouponTyped {
  const { gives, value, least, products } = fields;
  const shown: Record<CouponFields['gives'], () => string> = {
    percent: () => percentDigits(value),
    amount: () => toDecimal(value, base),
    shipping: () => '',
    other: () => '',
  };
  return {
    ...fields,
    products: [...products],
    value: shown[gives](),
    least: least === null ? '' : toDecimal(least, base),
  };
}
