import { and, eq, inArray, isNull, sql } from 'drizzle-orm';
import { keysOfMember, type AudienceKey } from '../../../core/material/audience';
import { termsAt } from '../../../core/terms/members';
import { isId, type Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { coupons } from '../../ground/tables/coupons';
import { creativeReaders } from '../../ground/tables/creatives';
import { affiliates } from '../../ground/tables/people';
import { segments } from '../../ground/tables/roster';
import { rosterWhere } from '../../recruit/roster/roster';
import type { KeptProduct } from '../../registers/catalogue/store';
import { openApprovals } from '../../registers/people/approvals';
import { theTerms } from '../../setup/terms/store';
import { onSale } from '../promoted/promoted';

/** The segments that a creative or a coupon was given to. */
function segmentsAsked(app: App): Id<'segment'>[] {
  const ofCreatives = app.db
    .selectDistinct({ reader: creativeReaders.reader })
    .from(creativeReaders)
    .where(sql`${creativeReaders.reader} >= 'seg_' AND ${creativeReaders.reader} < 'seg\`'`)
    .all()
    .flatMap(({ reader }) => (isId(reader, 'segment') ? reader : []));
  const ofCoupons = app.db
    .select({ audience: coupons.audience })
    .from(coupons)
    .where(and(isNull(coupons.removedAt), sql`json_extract(${coupons.audience}, '$.kind') = 'segment'`))
    .all()
    .flatMap(({ audience }) => (audience.kind === 'segment' ? audience.segment : []));
  return [...new Set([...ofCreatives, ...ofCoupons])];
}

/** Which of the segments that matter an affiliate is in now. */
function segmentsOf(app: App, affiliate: Id<'affiliate'>): Id<'segment'>[] {
  const asked = segmentsAsked(app);
  if (!asked.length) return [];
  return app.db
    .select({ id: segments.id, filter: segments.filter })
    .from(segments)
    .where(and(inArray(segments.id, asked), isNull(segments.removedAt)))
    .all()
    .filter(
      ({ filter }) =>
        app.db
          .select({ id: affiliates.id })
          .from(affiliates)
          .where(and(eq(affiliates.id, affiliate), rosterWhere(app, filter)))
          .get() !== undefined,
    )
    .map(({ id }) => id);
}

/** The keys by which an affiliate may use things now. */
export function keysNow(app: App, affiliate: Id<'affiliate'>): AudienceKey[] {
  const { group, tags } = termsAt(theTerms(app).roll, affiliate, app.clock.now());
  return keysOfMember({
    id: affiliate,
    group: group?.id ?? null,
    tags,
    segments: segmentsOf(app, affiliate),
  });
}

/** What an affiliate is approved for: the products by id, or all of them (null). */
export function promotesNow(app: App, affiliate: Id<'affiliate'>): Id<'product'>[] | null {
  const open = openApprovals(app, affiliate);
  return open.some((a) => a.product === null)
    ? null
    : open.flatMap((a) => (a.product === null ? [] : a.product));
}

/** The products on sale that an affiliate may promote. */
export function promotable(app: App, affiliate: Id<'affiliate'>): KeptProduct[] {
  const promotes = promotesNow(app, affiliate);
  return onSale(app).filter((p) => promotes === null || promotes.includes(p.id));
}
