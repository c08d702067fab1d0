import { and, eq, isNull } from 'drizzle-orm';
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
    'INSERT INTO links (code, affiliate, product, created_at) VALUES (@code, @affiliate, @product, @at) ON CONFLICT (affiliate, product) DO NOTHING',
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

/** The public form of a link. */
export function linkAddress(app: App, code: string): string {
  return `${app.address}/go/${code}`;
}
