import { eq } from 'drizzle-orm';
import type { ReplyOf } from '../../../contract/endpoint';
import type { weighDecision as Weigh } from '../../../contract/recruit/applications';
import { addDays, dayOf } from '../../../core/calendar/zone';
import { formatMoney } from '../../../core/money/amount';
import { formatPercent } from '../../../core/money/percent';
import { lossIn100Sales } from '../../../core/pricing/economics';
import { atSaleRecord } from '../../../core/recruiting/rules';
import { payAt } from '../../../core/terms/rate';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { applications } from '../../ground/tables/applications';
import { products } from '../../ground/tables/catalogue';
import { affiliates } from '../../ground/tables/people';
import { presentPrice } from '../../registers/catalogue/price';
import { productsInUse } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import { earnedNow, promisedNow } from '../../setup/terms/promised';
import { effective } from '../../setup/terms/service';
import { priceInBase } from '../../setup/terms/worst';
import { ordersSince } from '../../totals/products';
import { recordOf } from './evidence';

/** The live product with a price that sold most in 90 days: what the whole programme is judged by. */
function bestSeller(app: App): typeof products.$inferSelect | null {
  const since = addDays(dayOf(app.clock.now(), theProgramme(app).zone), -90);
  const live = productsInUse(app)
    .filter((p) => p.state === 'live' && p.kind !== 'free')
    .map((p) => ({ p, sold: ordersSince(app, p.id, since) }));
  return live.sort((a, b) => b.sold - a.sold)[0]?.p ?? null;
}

/**
 * What one sale of a product would earn an affiliate, as an order at its price would pay it; null where nothing applies, a commission of null where bands
 * begin above its price.
 */
function commissionOf(
  app: App,
  affiliate: Id<'affiliate'>,
  sold: typeof products.$inferSelect | null,
): { commission: number | null; text: string; rung: string } | null {
  if (!sold || sold.price === null) return null;
  const { reward, rung } = effective(app, affiliate, sold);
  if (!reward) return null;
  const price = priceInBase(app, { price: presentPrice(sold), currency: sold.currency });
  const commission = payAt(reward, price) ? earnedNow(app, affiliate, sold, { price }) : null;
  return { commission, text: promisedNow(app, affiliate, sold), rung };
}

/** What approving some applications at sale could lose, by their records. Changes nothing. */
export function weighDecision(app: App, ids: readonly Id<'application'>[]): ReplyOf<typeof Weigh> {
  const { base, refundLine } = theProgramme(app);
  const seller = bestSeller(app);
  const rows = [...new Set(ids)].flatMap((id): ReplyOf<typeof Weigh>['rows'] => {
    const found = app.db
      .select({ f: affiliates, p: products })
      .from(applications)
      .innerJoin(affiliates, eq(affiliates.id, applications.affiliate))
      .leftJoin(products, eq(products.id, applications.product))
      .where(eq(applications.id, id))
      .get();
    if (!found) return [];
    const known = recordOf(app, found.f.id);
    const one = commissionOf(app, found.f.id, found.p ?? seller);
    return [
      {
        id,
        name: found.f.name,
        cleared: known.cleared,
        sales: known.sales,
        refundRate: known.refundRate,
        weak: weakRecord(known, refundLine),
        loss: one?.commission
          ? { amount: lossIn100Sales(one.commission, known.refundRate), currency: base }
          : null,
      },
    ];
  });
  return {
    rows,
    weak: rows.filter((r) => r.weak).length,
    loss: { amount: rows.reduce((sum, r) => sum + (r.loss?.amount ?? 0), 0), currency: base },
  };
}

/** A record that at-sale timing should not rest on: few cleared sales, or refunds above the merchant's line. */
export function weakRecord(known: { sales: number; refundRate: number }, line: number): boolean {
  return known.sales < atSaleRecord || known.refundRate > line;
}

/** What approval would mean in money: the commission of one sale, and what at-sale timing could lose at this record. */
export function consequences(
  app: App,
  affiliate: Id<'affiliate'>,
  product: typeof products.$inferSelect | null,
  refundRate: number,
) {
  const { base } = theProgramme(app);
  const sold = product ?? bestSeller(app);
  const one = commissionOf(app, affiliate, sold);
  if (!sold || sold.price === null) return { ifApproved: 'No product is live yet.', atSaleRisk: '' };
  if (!one) return { ifApproved: `${sold.name}: no commission applies.`, atSaleRisk: '' };
  if (one.commission === null)
    return { ifApproved: `${sold.name}: its order bands begin above the price of one.`, atSaleRisk: '' };
  const { commission, text, rung } = one;
  const say = (amount: number) => formatMoney({ amount, currency: base });
  const price = formatMoney({ amount: presentPrice(sold) ?? sold.price, currency: sold.currency });
  return {
    ifApproved: `${rung === 'product' ? 'Product' : 'Programme'} rate ${text} → ${say(commission)} a sale of ${sold.name} at ${price}.`,
    atSaleRisk: `At sale, each refund after payment costs you that ${say(commission)}; at a refund rate of ${formatPercent(Math.round(refundRate / 1000) * 1000)} about ${say(lossIn100Sales(commission, refundRate))} of commission in 100 sales.`,
  };
}
