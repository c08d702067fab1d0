import { and, eq, isNull, or } from 'drizzle-orm';
import { type App } from '../../ground/context';
import { products } from '../../ground/tables/catalogue';
import { approvals, links } from '../../ground/tables/people';
import { detailsOf } from '../../registers/catalogue/details';
import { priceNow } from '../../registers/catalogue/price';
import { linkAddress } from '../../registers/people/links';
import { inForceNow, notForYou } from './service';

/** What an affiliate is approved for now, with its rate and link. */
export function termsInForce(app: App, affiliate: string) {
  const approved = app.db
    .select()
    .from(approvals)
    .where(and(eq(approvals.affiliate, affiliate), isNull(approvals.until)))
    .all();
  if (!approved.length) return [];
  const all = approved.find((a) => a.product === null);
  const own = new Map(
    app.db
      .select()
      .from(links)
      .where(eq(links.affiliate, affiliate))
      .all()
      .map((l) => [l.product, l.code]),
  );
  return app.db
    .select()
    .from(products)
    .where(or(eq(products.state, 'live'), eq(products.state, 'paused')))
    .orderBy(products.name)
    .all()
    .flatMap((p) => {
      const approval = approved.find((a) => a.product === p.id) ?? all;
      if (!approval) return [];
      // nobody may promote it: no link to it earns, whatever was approved
      if (detailsOf(p).recruiting === 'none')
        return [
          {
            product: p.id,
            code: p.code,
            name: p.name,
            price: priceNow(p).presentPrice?.amount ?? null,
            currency: p.currency,
            reward: notForYou,
            renewals: '',
            locked: false,
            raised: false,
            rung: '',
            timing: approval.timing,
            link: null,
          },
        ];
      const { text, rung, locked, raised } = inForceNow(app, affiliate, p);
      const later =
        p.kind === 'recurring' || p.kind === 'instalments'
          ? inForceNow(app, affiliate, p, 'renewal').text
          : '';
      const code = own.get(p.id);
      return [
        {
          product: p.id,
          code: p.code,
          name: p.name,
          price: priceNow(p).presentPrice?.amount ?? null,
          currency: p.currency,
          reward: text,
          renewals: later,
          locked,
          raised,
          rung,
          timing: approval.timing,
          link: code ? linkAddress(app, code) : null,
        },
      ];
    });
}
