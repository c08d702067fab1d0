import { eq } from 'drizzle-orm';
import type { ReplyOf } from '../../../contract/endpoint';
import type { readOrder } from '../../../contract/track/sales';
import { subIdNames } from '../../../core/material/copies';
import { creativeMaybe } from '../../equip/creatives/store';
import type { App } from '../../ground/context';
import type { orders } from '../../ground/tables/orders';
import { visits } from '../../ground/tables/visits';

type Came = ReplyOf<typeof readOrder>['came'];

/** The sub-ids of a visit, those that were set. */
function subIdsIn(kept: string | null): Came['subIds'] {
  const values = kept === null ? [] : (JSON.parse(kept) as (string | null)[]);
  return subIdNames.flatMap((name, i) => (values[i] ? [{ name, value: values[i] }] : []));
}

/** What the buyer of an order came by, and the coupon that it carried. */
export function cameBy(app: App, order: typeof orders.$inferSelect): Came {
  const visit =
    order.visit === null ? undefined : app.db.select().from(visits).where(eq(visits.id, order.visit)).get();
  const creative = visit?.creative ? creativeMaybe(app, visit.creative) : undefined;
  return {
    link: visit?.link ?? null,
    landing: visit?.landing ?? null,
    subIds: subIdsIn(visit?.subIds ?? null),
    creative: creative ? { id: creative.id, name: creative.name } : null,
    coupon: order.couponCode === null ? null : { code: order.couponCode, id: order.coupon },
  };
}
