import { and, desc, eq, inArray, isNull, sql } from 'drizzle-orm';
import type { CouponFields } from '../../../core/material/coupon';
import type { EvidenceKind } from '../../../core/material/lists';
import type { Id } from '../../../core/text/id';
import { cached, touch } from '../../ground/cache';
import type { App } from '../../ground/context';
import { perApp, rowsBy } from '../../ground/db/prepared';
import { Problem } from '../../ground/http/problem';
import { couponEvidence, coupons } from '../../ground/tables/coupons';

export type CouponRecord = typeof coupons.$inferSelect;
export type EvidenceRecord = typeof couponEvidence.$inferSelect;

const byId = perApp((app) => rowsBy(app, coupons, ['id']));

export const couponMaybe = (app: App, id: Id<'coupon'>): CouponRecord | undefined => byId(app).get(id);

/** @throws Problem `not-found` */
export function couponById(app: App, id: Id<'coupon'>): CouponRecord {
  const row = couponMaybe(app, id);
  if (!row) throw new Problem('not-found', 'This coupon does not exist');
  return row;
}

/** Every coupon by its code, the newest first: asked with every order that carries one. */
const byCode = cached('records', (app): ReadonlyMap<string, CouponRecord[]> => {
  const found = new Map<string, CouponRecord[]>();
  for (const row of app.db.select().from(coupons).orderBy(desc(coupons.createdAt), desc(coupons.id)).all())
    found.set(row.code, [...(found.get(row.code) ?? []), row]);
  return found;
});

/** The coupons that had a code, the newest first; those that were taken away too. */
export const couponsOfCode = (app: App, code: string): readonly CouponRecord[] => byCode(app).get(code) ?? [];

/** Every coupon that was not taken away. */
export function couponsThere(app: App): CouponRecord[] {
  return app.db
    .select()
    .from(coupons)
    .where(isNull(coupons.removedAt))
    .orderBy(desc(coupons.createdAt))
    .all();
}

/** The fields that a person sets, out of a row. */
export function couponFieldsOf(row: CouponRecord): CouponFields {
  const { code, gives, value, words, least, products, landing } = row;
  const { terms, owner, audience, applied, active, from, until } = row;
  return {
    ...{ code, gives, value, words, least, products, landing },
    ...{ terms, owner, audience, applied, active, from, until },
  };
}

export function addCoupon(
  app: App,
  fields: CouponFields,
  row: Pick<CouponRecord, 'id' | 'createdAt' | 'by'>,
): void {
  app.db
    .insert(coupons)
    .values({ ...fields, products: [...fields.products], ...row })
    .run();
  touch(app, 'records');
}

export function changeCoupon(app: App, row: CouponRecord, fields: CouponFields): void {
  app.db
    .update(coupons)
    .set({ ...fields, products: [...fields.products], version: row.version + 1 })
    .where(eq(coupons.id, row.id))
    .run();
  touch(app, 'records');
}

export function putCouponAway(app: App, row: CouponRecord, removedAt: number | null): void {
  app.db
    .update(coupons)
    .set({ removedAt, version: row.version + 1 })
    .where(eq(coupons.id, row.id))
    .run();
  touch(app, 'records');
}

/** Keeps that something was learned of a coupon in the shop. */
export function addEvidence(
  app: App,
  coupon: Id<'coupon'>,
  { kind, at, by }: { kind: EvidenceKind; at: number; by: string },
): void {
  app.db
    .insert(couponEvidence)
    .values({ coupon, kind, firstAt: at, lastAt: at, times: 1, by })
    .onConflictDoUpdate({
      target: [couponEvidence.coupon, couponEvidence.kind],
      set: {
        times: sql`${couponEvidence.times} + 1`,
        by: sql`iif(excluded.last_at >= ${couponEvidence.lastAt}, excluded.by, ${couponEvidence.by})`,
        lastAt: sql`max(${couponEvidence.lastAt}, excluded.last_at)`,
        firstAt: sql`min(${couponEvidence.firstAt}, excluded.first_at)`,
      },
    })
    .run();
}

/** What is known of coupons in the shop. */
export function evidenceOf(app: App, ids: readonly Id<'coupon'>[]): Map<string, EvidenceRecord[]> {
  const found = new Map<string, EvidenceRecord[]>();
  if (!ids.length) return found;
  for (const row of app.db
    .select()
    .from(couponEvidence)
    .where(and(inArray(couponEvidence.coupon, [...ids])))
    .all())
    found.set(row.coupon, [...(found.get(row.coupon) ?? []), row]);
  return found;
}
