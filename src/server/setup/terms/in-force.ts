import { and, eq, isNull, or } from 'drizzle-orm';
import { isOpenToAffiliates } from '../../../core/pricing/product';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { products } from '../../ground/tables/catalogue';
import { links } from '../../ground/tables/people';
import { detailsOf } from '../../registers/catalogue/details';
import { priceNow } from '../../registers/catalogue/price';
import type { ProductRecord } from '../../registers/catalogue/store';
import { openApprovals } from '../../registers/people/approvals';
import { linkAddress } from '../../registers/people/links';
import { hasRenewals, promisedNow } from './promised';
import { notForYou, standingOf } from './service';

/** What an affiliate earns on a product now, in words. */
function rateShown(app: App, affiliate: Id<'affiliate'>, p: ProductRecord) {
  // nobody may promote it: no link to it earns, whatever was approved
  if (!isOpenToAffiliates(detailsOf(p), app.clock.now()))
    return { reward: notForYou, renewals: '', locked: false, raised: false, rung: null };
  return {
    ...standingOf(app, affiliate, p),
    reward: promisedNow(app, affiliate, p),
    renewals: hasRenewals(p) ? promisedNow(app, affiliate, p, 'renewal') : '',
  };
}

const productsOffered = (app: App): ProductRecord[] =>
  app.db
    .select()
    .from(products)
    .where(or(eq(products.state, 'live'), eq(products.state, 'paused')))
    .orderBy(products.name)
    .all();

/** What an affiliate is approved for now, with its rate and link. */
export function termsInForce(app: App, affiliate: Id<'affiliate'>) {
  const approved = openApprovals(app, affiliate);
  if (!approved.length) return [];
  const all = approved.find((a) => a.product === null);
  const own = new Map(
    app.db
      .select()
      .from(links)
      .where(
        and(eq(links.affiliate, affiliate), isNull(links.creative), isNull(links.coupon), isNull(links.page)),
      )
      .all()
      .map((l) => [l.product, l.code]),
  );
  return productsOffered(app).flatMap((p) => {
    const approval = approved.find((a) => a.product === p.id) ?? all;
    if (!approval) return [];
    const isClosed = !isOpenToAffiliates(detailsOf(p), app.clock.now());
    const code = isClosed ? undefined : own.get(p.id);
    return [
      {
        product: p.id,
        code: p.code,
        name: p.name,
        price: priceNow(p).presentPrice?.amount ?? null,
        currency: p.currency,
        ...rateShown(app, affiliate, p),
        timing: approval.timing,
        link: code ? linkAddress(app, code) : null,
      },
    ];
  });
}
