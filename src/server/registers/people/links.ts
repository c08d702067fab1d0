import { and, eq, isNull } from 'drizzle-orm';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { randomText } from '../../ground/db/ids';
import { perApp } from '../../ground/db/prepared';
import { affiliates, approvals } from '../../ground/tables/people';

/** Gives an affiliate its tracking link for a product, if it has none. */
export function giveLink(app: App, affiliate: string, product: string): void {
  statements(app).give.run({ code: randomText(8), affiliate, product, at: app.clock.now() });
}

/** Prepared: hundreds are let in at once, each with a link for every product. */
const statements = perApp((app) => ({
  give: app.sqlite.prepare(
    'INSERT INTO links (code, affiliate, product, created_at) VALUES (@code, @affiliate, @product, @at) ON CONFLICT DO NOTHING',
  ),
  offered: app.sqlite
    .prepare<[], string>("SELECT id FROM products WHERE state IN ('live', 'paused')")
    .pluck(),
}));

/** Gives an affiliate its links for everything it is approved for; product null = every product in use. */
export function giveLinks(app: App, affiliate: string, product: string | null): void {
  if (product !== null) return giveLink(app, affiliate, product);
  for (const id of statements(app).offered.all()) giveLink(app, affiliate, id);
}

/** Gives everybody who is approved for every product a link for one that goes live. */
export function giveLinksForProduct(app: App, product: string): void {
  const rows = app.db
    .selectDistinct({ id: approvals.affiliate })
    .from(approvals)
    .innerJoin(affiliates, eq(affiliates.id, approvals.affiliate))
    .where(and(isNull(approvals.product), isNull(approvals.until), eq(affiliates.state, 'active')))
    .all();
  for (const { id } of rows) giveLink(app, id, product);
}

/** What a link is of, beside the products that every affiliate has one of from its approval. */
export type LinkOf =
  { creative: Id<'creative'> } | { coupon: Id<'coupon'> } | { product: Id<'product'>; page: string };

const ownStatements = perApp((app) => ({
  find: app.sqlite
    .prepare<[string, string | null, string | null, string | null, string | null], string>(
      'SELECT code FROM links WHERE affiliate = ? AND creative IS ? AND coupon IS ? AND page IS ? AND product IS ?',
    )
    .pluck(),
  give: app.sqlite.prepare(
    'INSERT INTO links (code, affiliate, creative, coupon, page, product, created_at) VALUES (?, ?, ?, ?, ?, ?, ?) ON CONFLICT DO NOTHING',
  ),
}));

/** The code of an affiliate's link of something if there is one. */
export function linkOf(app: App, affiliate: Id<'affiliate'>, what: LinkOf): string | null {
  return ownStatements(app).find.get(affiliate, ...keyOf(what)) ?? null;
}

/** The code of an affiliate's link of something; the first time it is asked for, it is made. Two who ask at once get the same. */
export function linkMade(app: App, affiliate: Id<'affiliate'>, what: LinkOf): string {
  const key = keyOf(what);
  const { find, give } = ownStatements(app);
  const known = find.get(affiliate, ...key);
  if (known !== undefined) return known;
  give.run(randomText(8), affiliate, ...key, app.clock.now());
  return find.get(affiliate, ...key)!;
}

const keyOf = (what: LinkOf): [string | null, string | null, string | null, string | null] => [
  'creative' in what ? what.creative : null,
  'coupon' in what ? what.coupon : null,
  'page' in what ? what.page : null,
  'page' in what ? what.product : null,
];

/** The public form of a link. */
export function linkAddress(app: App, code: string): string {
  return `${app.address}/go/${code}`;
}
