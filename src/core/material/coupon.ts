import { formatMoney } from '../money/amount';
import { formatPercent } from '../money/percent';
import type { Id } from '../text/id';
import { placeholdersIn } from '../text/live';
import type { Audience } from './audience';
import { landingFault } from './landing';
import type { CouponGives, EvidenceKind, ShopState } from './lists';

/** The fields of a coupon that a person sets. Moments are UTC milliseconds, until is exclusive. */
export interface CouponFields {
  /** as buyers type it: capital letters, digits, dashes */
  code: string;
  gives: CouponGives;
  /** parts per million, or minor units of base; 0 where it gives something else */
  value: number;
  /** what the buyer gets, where it is something else */
  words: string;
  /** least value of an order, minor units of base; null: none */
  least: number | null;
  /** empty: for everything */
  products: readonly Id<'product'>[];
  /** where its links lead; empty for the page of its product */
  landing: string;
  terms: string;
  /** whose own it is; null: nobody's */
  owner: Id<'affiliate'> | null;
  audience: Audience;
  /** the shop applies it by itself from the link */
  applied: boolean;
  active: boolean;
  from: number | null;
  until: number | null;
}

export type CouponField = keyof CouponFields;

export const couponFields = [
  'code',
  'gives',
  'value',
  'words',
  'least',
  'products',
  'landing',
  'terms',
  'owner',
  'audience',
  'applied',
  'active',
  'from',
  'until',
] as const satisfies readonly CouponField[];

export const couponFieldWords: Record<CouponField, string> = {
  code: 'code',
  gives: 'what it gives',
  value: 'how much it gives',
  words: 'what the buyer gets',
  least: 'least order value',
  products: 'products',
  landing: 'landing page',
  terms: 'terms',
  owner: 'owner',
  audience: 'audience',
  applied: 'applied by the link',
  active: 'switch',
  from: 'start',
  until: 'end',
};

/** A code as it is compared and kept: capital letters, without blanks around it. */
export const codeKey = (typed: string): string => typed.trim().toUpperCase();

const codePattern = /^[A-Z0-9](?:[A-Z0-9-]{0,28}[A-Z0-9])?$/;

/** Why a code cannot be one; null where it can. */
export function codeFault(code: string): string | null {
  if (code === '') return 'it is missing';
  if (/\s/.test(code)) return 'it has a blank in it, which buyers would leave out';
  return codePattern.test(code) ? null : 'letters A–Z, digits and dashes, up to 30 of them, are taken';
}

/** What a buyer gets, in words: “10 % off”, “€5.00 off orders from €50.00”. @param base currency of amounts */
export function givesWords(
  { gives, value, words, least }: Pick<CouponFields, 'gives' | 'value' | 'words' | 'least'>,
  base: string,
): string {
  const from = least === null ? '' : ` orders from ${formatMoney({ amount: least, currency: base })}`;
  switch (gives) {
    case 'percent':
      return `${formatPercent(value)} off${from}`;
    case 'amount':
      return `${formatMoney({ amount: value, currency: base })} off${from}`;
    case 'shipping':
      return `free shipping${from ? ` of${from}` : ''}`;
    case 'other':
      return `${words}${from ? `, for${from}` : ''}`;
  }
}

export interface CouponFault {
  field: CouponField;
  detail: string;
  example?: string;
}

const whole = 1_000_000;

function valueFaults({ gives, value, words }: CouponFields): CouponFault[] {
  if (gives === 'percent' && (value <= 0 || value > whole))
    return [{ field: 'value', detail: 'Percent: more than 0 and at most 100', example: '10' }];
  if (gives === 'amount' && value <= 0)
    return [{ field: 'value', detail: 'Amount: more than nothing', example: '5.00' }];
  if (gives === 'other' && words.trim() === '')
    return [
      {
        field: 'words',
        detail: 'What the buyer gets: say it in words',
        example: 'two kilos of clay with it',
      },
    ];
  return [];
}

function leastFaults({ gives, value, least }: CouponFields): CouponFault[] {
  if (least !== null && least <= 0)
    return [{ field: 'least', detail: 'Least order value: more than nothing, or left empty' }];
  return gives === 'amount' && least !== null && least < value
    ? [{ field: 'least', detail: 'Least order value: it is less than what the coupon takes off' }]
    : [];
}

/** Everything that is wrong with a coupon by itself. @param hosts that links may lead to */
export function couponFaults(fields: CouponFields, hosts: readonly string[]): CouponFault[] {
  const { code, from, until, landing, terms } = fields;
  const faults: CouponFault[] = [];
  const why = codeFault(code);
  if (why) faults.push({ field: 'code', detail: `Code: ${why}`, example: 'WHEEL10' });
  faults.push(...valueFaults(fields), ...leastFaults(fields));
  if (from !== null && until !== null && until <= from)
    faults.push({ field: 'until', detail: 'End: it has to be later than the start' });
  const wrong = landing === '' ? null : landingFault(landing, hosts);
  if (wrong)
    faults.push({
      field: 'landing',
      detail: `Landing page: ${wrong}`,
      ...(hosts[0] ? { example: `https://${hosts[0]}/` } : {}),
    });
  const braces = placeholdersIn(terms);
  if (braces.length)
    faults.push({
      field: 'terms',
      detail: `Terms: ${braces[0]!.raw} is not filled in here; write it out`,
    });
  return faults;
}

/** A coupon as it is kept. */
export function trimmedCoupon(fields: CouponFields): CouponFields {
  const { gives, value } = fields;
  return {
    ...fields,
    code: codeKey(fields.code),
    value: gives === 'percent' || gives === 'amount' ? value : 0,
    words: gives === 'other' ? fields.words.trim() : '',
    landing: fields.landing.trim(),
    terms: fields.terms.trim(),
    products: [...new Set(fields.products)],
  };
}

/** Something that was learned of a coupon in the shop. */
export interface Evidence {
  kind: EvidenceKind;
  lastAt: number;
}

/** How a coupon stands in the shop: by what was learned of it last. Of the same moment an order counts more than words. */
export function shopState(evidence: readonly Evidence[]): ShopState {
  const weight: Record<EvidenceKind, number> = { said: 0, refused: 1, seen: 2 };
  const [last] = [...evidence].sort((a, b) => b.lastAt - a.lastAt || weight[b.kind] - weight[a.kind]);
  return last?.kind ?? 'never';
}
