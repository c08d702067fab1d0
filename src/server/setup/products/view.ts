import { type ProductOut } from '../../../contract/setup/products';
import { addDays, dayOf } from '../../../core/calendar/zone';
import { usualDays } from '../../../core/figures/measures';
import { toDecimal } from '../../../core/money/amount';
import { percentDigits } from '../../../core/money/percent';
import { readiness, type ProductState } from '../../../core/pricing/readiness';
import { anybody, type Reward } from '../../../core/terms/rate';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { stale } from '../../registers/access/stale';
import { detailsOf } from '../../registers/catalogue/details';
import { detailsAsTyped } from '../../registers/catalogue/details-typed';
import { fileNeed, fileOf, pictureAddress, shownFile } from '../../registers/catalogue/files';
import { showPages } from '../../registers/catalogue/pages';
import { priceNow } from '../../registers/catalogue/price';
import { pageOfProducts, productById, type ProductRecord } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import { ordersSince } from '../../totals/products';
import { promisedNow } from '../terms/promised';
import { effective, firstEvent, lockedAt, productSlot, rewardIn } from '../terms/service';
import { conversionOf, economicsOf } from './economics';

export function readProduct(app: App, id: Id<'product'>): ProductOut {
  const row = current(app, id);
  const { base } = theProgramme(app);
  const own = rewardIn(app, productSlot(id, firstEvent(row.kind)));
  const later = rewardIn(app, productSlot(id, 'renewal'));
  const kindOf = (r: Reward | null) =>
    r === null
      ? ('none' as const)
      : r.type === 'percent'
        ? ('percent' as const)
        : r.type === 'bands'
          ? ('book' as const)
          : ('flat' as const);
  const typed = (r: Reward | null) =>
    r === null || r.type === 'bands'
      ? ''
      : r.type === 'percent'
        ? percentDigits(r.ppm)
        : toDecimal(r.amount, base);
  const now = app.clock.now();
  const { code, name, description, currency, refundDays, salesPage, state, createdAt, version } = row;
  return {
    id,
    code,
    name,
    description,
    currency,
    refundDays,
    salesPage,
    state,
    createdAt,
    version,
    price: row.price === null || row.kind === 'free' ? '' : toDecimal(row.price, currency),
    ...detailsAsTyped(app, row),
    sold: row.sold,
    ...priceNow(row),
    closedFrom: detailsOf(row).closedFrom,
    rewardKind: kindOf(own),
    reward: typed(own),
    renewalRewardKind: kindOf(later),
    renewalReward: typed(later),
    locks: (['sale', 'renewal'] as const).filter((event) => lockedAt(app, id, event, now)),
    picture: pictureAddress(app, row),
    ownPicture: fileOf(app, id, 'picture') !== undefined,
    file: shownFile(app, id),
    rewardText: promisedNow(app, anybody, row),
    joinAddress: `${app.address}/join/${code}`,
    conversion: conversionOf(app, row),
    economics: economicsOf(app, row),
    pages: showPages(app, row),
    readiness: readiness({
      ...row,
      ...fileNeed(app, row),
      hasCommission: effective(app, anybody, row).reward !== null,
    }),
  };
}

export function listProducts(
  app: App,
  filter: { state?: ProductState; q?: string; after?: string; limit?: number },
) {
  const { zone } = theProgramme(app);
  const since = addDays(dayOf(app.clock.now(), zone), 1 - usualDays);
  const { rows, next } = pageOfProducts(app, { ...filter, limit: filter.limit ?? 100 });
  return {
    next,
    rows: rows.map((row) => ({
      id: row.id,
      code: row.code,
      name: row.name,
      kind: row.kind as ProductOut['kind'],
      state: row.state,
      price: priceNow(row).presentPrice,
      rewardText: promisedNow(app, anybody, row),
      refundDays: row.refundDays,
      orders30: ordersSince(app, row.id, since),
    })),
  };
}

export function current(app: App, id: Id<'product'>, version?: number): ProductRecord {
  const row = productById(app, id);
  if (!row) throw new Problem('not-found', 'This product does not exist');
  if (version !== undefined && row.version !== version) {
    throw stale(app, id, 'this product', readProduct(app, id));
  }
  return row;
}
