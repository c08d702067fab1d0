import { eq } from 'drizzle-orm';
import type { OwnFeeds } from '../../../contract/portal/feeds';
import type { Id } from '../../../core/text/id';
import { asAffiliate, type Actor, type App } from '../../ground/context';
import { randomText } from '../../ground/db/ids';
import { feedKeys } from '../../ground/tables/feeds';
import { affiliates } from '../../ground/tables/people';
import { record } from '../../registers/access/audit';

const secretLength = 24;

const digestOf = (app: App, secret: string): string => app.seal.digest(`feed ${secret}`);

/** Whose feeds are at an address with this secret; null for one that was renewed, is none, or belongs to who has left. */
export function ownerOf(app: App, secret: string): Id<'affiliate'> | null {
  const row = app.db
    .select({ affiliate: feedKeys.affiliate, state: affiliates.state })
    .from(feedKeys)
    .innerJoin(affiliates, eq(affiliates.id, feedKeys.affiliate))
    .where(eq(feedKeys.digest, digestOf(app, secret)))
    .get();
  return !row || row.state === 'ended' || row.state === 'blocked' ? null : row.affiliate;
}

function keep(app: App, affiliate: Id<'affiliate'>): string {
  const secret = randomText(secretLength);
  const row = { digest: digestOf(app, secret), sealed: app.seal.close(secret), createdAt: app.clock.now() };
  app.db
    .insert(feedKeys)
    .values({ affiliate, ...row })
    .onConflictDoUpdate({ target: feedKeys.affiliate, set: row })
    .run();
  return secret;
}

/** The secret of an affiliate; null where it has none, or the seal was lost. */
function secretOf(app: App, affiliate: Id<'affiliate'>): string | null {
  const row = app.db.select().from(feedKeys).where(eq(feedKeys.affiliate, affiliate)).get();
  if (!row) return null;
  try {
    return app.seal.open(row.sealed);
  } catch {
    return null;
  }
}

function addresses(app: App, secret: string | null): OwnFeeds {
  const base = `${app.address}/feeds`;
  return {
    own:
      secret === null
        ? null
        : {
            coupons: { rss: `${base}/${secret}/coupons.rss`, json: `${base}/${secret}/coupons.json` },
            products: {
              rss: `${base}/${secret}/products.rss`,
              csv: `${base}/${secret}/products.csv`,
              json: `${base}/${secret}/products.json`,
            },
          },
    offers: { rss: `${base}/offers.rss`, json: `${base}/offers.json` },
  };
}

/** The addresses of an affiliate's feeds, and of the public one. @param looking true: for staff, to whom the secret is none of their business */
export const feedsOf = (app: App, affiliate: Id<'affiliate'>, looking: boolean): OwnFeeds =>
  addresses(app, looking ? null : secretOf(app, affiliate));

/** Makes the addresses, or makes them anew: those of before lead nowhere from then on. */
export function renewFeeds(app: App, actor: Actor): OwnFeeds {
  const affiliate = asAffiliate(actor);
  const secret = keep(app, affiliate);
  record(app, actor, 'feeds-renewed', { subject: affiliate, before: null, after: null });
  return addresses(app, secret);
}
