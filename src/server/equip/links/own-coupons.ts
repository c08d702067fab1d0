import type { OwnCoupon } from '../../../contract/portal/coupons';
import { keysOfAudience } from '../../../core/material/audience';
import { givesWords, shopState } from '../../../core/material/coupon';
import type { ShopState } from '../../../core/material/lists';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { keptProducts } from '../../registers/catalogue/store';
import { linkAddress, linkMade, linkOf } from '../../registers/people/links';
import { theProgramme } from '../../registers/programme/record';
import { keysNow, promotesNow } from '../audience/member';
import { couponById, couponsThere, evidenceOf, type CouponRecord } from '../coupons/store';
import { promotedNow, stateNow } from '../promoted/promoted';

/** Whether an affiliate promotes something that a coupon is on. */
const isOnOwn = ({ products }: CouponRecord, promotes: readonly string[] | null) =>
  promotes === null || (products.length ? products.some((id) => promotes.includes(id)) : promotes.length > 0);

/** A coupon that an affiliate may use, and how it stands in the shop. */
type Usable = CouponRecord & { shop: ShopState };

/** How coupons stand in the shop by what was learned of them. */
function inTheShop(app: App, rows: readonly CouponRecord[]): Usable[] {
  const evidence = evidenceOf(
    app,
    rows.map((row) => row.id),
  );
  return rows.map((row) => ({ ...row, shop: shopState(evidence.get(row.id) ?? []) }));
}

/** The coupons that an affiliate may use now, its own first, then the newest. An own one is its owner's alone; one that the shop refused is nobody's until it works. */
export function couponsFor(app: App, affiliate: Id<'affiliate'>): Usable[] {
  const keys = new Set<string>(keysNow(app, affiliate));
  const promotes = promotesNow(app, affiliate);
  const promoted = promotedNow(app);
  const own = (row: CouponRecord) => row.owner === affiliate;
  const there = couponsThere(app)
    .filter((row) => isOnOwn(row, promotes) && stateNow(app, row, promoted) === 'on')
    .filter((row) =>
      row.owner === null ? keysOfAudience(row.audience).some((key) => keys.has(key)) : own(row),
    )
    .sort((a, b) => Number(own(b)) - Number(own(a)));
  return inTheShop(app, there).filter((row) => row.shop !== 'refused');
}

const productNames = (app: App) => new Map(keptProducts(app).map((p) => [p.id, p.name]));

interface Asked {
  affiliate: Id<'affiliate'>;
  before: number | null;
}

function show(
  app: App,
  { affiliate, before }: Asked,
  row: Usable,
  names: ReadonlyMap<Id<'product'>, string> = productNames(app),
): OwnCoupon {
  const code = linkOf(app, affiliate, { coupon: row.id });
  return {
    id: row.id,
    code: row.code,
    says: givesWords(row, theProgramme(app).base),
    products: row.products.flatMap((id) => names.get(id) ?? []),
    terms: row.terms,
    until: row.until,
    applied: row.applied,
    own: row.owner === affiliate,
    seenWorking: row.shop === 'seen',
    isNew: before !== null && Math.max(row.createdAt, row.from ?? 0) > before,
    link: code === null ? null : linkAddress(app, code),
  };
}

export function listOwnCoupons(app: App, asked: Asked): { rows: OwnCoupon[] } {
  const names = productNames(app);
  return { rows: couponsFor(app, asked.affiliate).map((row) => show(app, asked, row, names)) };
}

/** Takes a coupon: the link that hands it over is made the first time. */
export function takeOwnCoupon(app: App, asked: Asked, id: Id<'coupon'>): OwnCoupon {
  if (!couponsFor(app, asked.affiliate).some((row) => row.id === id))
    throw new Problem('not-found', 'This coupon is not for you now, or it is over');
  app.transaction(() => linkMade(app, asked.affiliate, { coupon: id }));
  return show(app, asked, inTheShop(app, [couponById(app, id)])[0]!);
}

/** The code that an affiliate's readers may type for one of some products: its own before others; empty where there is none. */
export function codeFor(app: App, affiliate: Id<'affiliate'>, products: readonly Id<'product'>[]): string {
  const fits = (row: CouponRecord) =>
    row.products.length === 0 || products.length === 0 || row.products.some((id) => products.includes(id));
  return couponsFor(app, affiliate).find(fits)?.code ?? '';
}
