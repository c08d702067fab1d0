import { desc, eq } from 'drizzle-orm';
import type { PortalHome } from '../../../contract/portal/home';
import { describeBarred } from '../../../core/attribution/barred';
import { formatMoney } from '../../../core/money/amount';
import { formatPercent } from '../../../core/money/percent';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { products } from '../../ground/tables/catalogue';
import { visits } from '../../ground/tables/visits';
import { waitingOf } from '../../recruit/applications/counts';
import { openQuestions } from '../../recruit/applications/questions';
import { productById } from '../../registers/catalogue/store';
import { affiliateById, detailsComplete } from '../../registers/people/record';
import { theProgramme } from '../../registers/programme/record';
import { ownAcceptance } from '../../setup/policy/acceptance';
import { ownPlaces } from '../../setup/terms/cards';
import { ownedBy } from '../../setup/terms/coowners';
import { termsInForce } from '../../setup/terms/in-force';
import { comingFor } from './coming';
import { goingOf } from './going';
import { referralOf } from './referral';

const lastVisits = 8;

function visitsOf(app: App, affiliate: Id<'affiliate'>): PortalHome['visits'] {
  const { name } = theProgramme(app);
  return app.db
    .select({ at: visits.at, product: products.name, barred: visits.barred })
    .from(visits)
    .leftJoin(products, eq(products.id, visits.product))
    .where(eq(visits.affiliate, affiliate))
    .orderBy(desc(visits.at))
    .limit(lastVisits)
    .all()
    .map((v) => ({
      at: v.at,
      product: v.product ?? name,
      counted: v.barred && describeBarred(v.barred),
    }));
}

type Going = ReturnType<typeof goingOf>;

/** The links that an affiliate has from its approval on, with what each earns and has earned. */
function linksOf(app: App, affiliate: Id<'affiliate'>, byProduct: Going['byProduct']): PortalHome['links'] {
  return termsInForce(app, affiliate)
    .filter((t) => t.link !== null)
    .map((t) => ({
      product: t.name,
      code: t.code,
      price: t.price === null ? '' : formatMoney({ amount: t.price, currency: t.currency }),
      reward: t.reward,
      renewals: t.renewals,
      timing: t.timing,
      link: t.link!,
      ...byProduct(t.product),
    }));
}

/** What an affiliate reads first: what it earned, what comes, what is to be done, its links. */
export function readHome(app: App, affiliate: Id<'affiliate'>): PortalHome {
  const row = affiliateById(app, affiliate);
  const { going, byProduct } = goingOf(app, affiliate);
  return {
    links: linksOf(app, affiliate, byProduct),
    ...comingFor(app, affiliate),
    going,
    visits: visitsOf(app, affiliate),
    detailsComplete: detailsComplete(row),
    policy: row.promotes ? ownAcceptance(app, affiliate) : null,
    questions: openQuestions(app, affiliate),
    waiting: waitingOf(app, affiliate),
    places: ownPlaces(app, affiliate),
    promotes: row.promotes,
    referral: referralOf(app, row),
    owns: ownedBy(app, affiliate).map((o) => ({
      product: productById(app, o.product)?.name ?? '',
      percent: formatPercent(o.ppm),
    })),
  };
}
