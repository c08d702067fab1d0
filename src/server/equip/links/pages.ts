import { and, eq, isNotNull, sql } from 'drizzle-orm';
import type { BodyOf, QueryOf, ReplyOf } from '../../../contract/endpoint';
import type {
  listPageLinks as List,
  makePageLink as Make,
  PageLink,
  surveyPageLinks as Survey,
} from '../../../contract/portal/links';
import { landingFault } from '../../../core/material/landing';
import { pageAddress } from '../../../core/material/page-address';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { afterCursor, cut, inOrder } from '../../ground/db/page';
import { atField, invalid, Problem } from '../../ground/http/problem';
import { links } from '../../ground/tables/people';
import { keptProducts } from '../../registers/catalogue/store';
import { linkAddress, linkMade, linkOf } from '../../registers/people/links';
import { theProgramme } from '../../registers/programme/record';
import { promotable } from '../audience/member';

/** More links to pages of one affiliate are a program's doing: pages can be named in the address of any link. */
const mostPages = 500;
const examplePage = 'https://shop.quernstone.example/firing-log';
const keyset = { by: links.createdAt, id: links.code, order: 'desc' } as const;
type Row = typeof links.$inferSelect;

const ofPages = (affiliate: Id<'affiliate'>) => and(eq(links.affiliate, affiliate), isNotNull(links.page));

function show(app: App, rows: readonly Row[]): PageLink[] {
  const names = new Map(keptProducts(app).map((p) => [p.id, { code: p.code, name: p.name }]));
  return rows.map((row) => ({
    code: row.code,
    product: (row.product && names.get(row.product)) || { code: '', name: theProgramme(app).name },
    page: row.page ?? '',
    link: linkAddress(app, row.code),
    at: row.createdAt,
  }));
}

/** An affiliate's links to pages of its choice, newest first. */
export function listPageLinks(
  app: App,
  affiliate: Id<'affiliate'>,
  { after, limit = 20 }: QueryOf<typeof List>,
): ReplyOf<typeof List> {
  const found = app.db
    .select()
    .from(links)
    .where(and(ofPages(affiliate), afterCursor(keyset, after)))
    .orderBy(...inOrder(keyset))
    .limit(limit + 1)
    .all();
  const { rows, next } = cut(found, limit, (r) => [r.createdAt, r.code]);
  return { rows: show(app, rows), next };
}

/** For what an affiliate can make links to pages, and on which hosts. */
export const surveyPageLinks = (app: App, affiliate: Id<'affiliate'>): ReplyOf<typeof Survey> => ({
  products: promotable(app, affiliate).map((p) => ({ code: p.code, name: p.name })),
  hosts: [...theProgramme(app).landingHosts],
});

const countPages = (app: App, affiliate: Id<'affiliate'>): number =>
  app.db
    .select({ n: sql<number>`count(*)` })
    .from(links)
    .where(ofPages(affiliate))
    .get()!.n;

/**
 * Makes an affiliate's link to a page; one that there is already is given again.
 * @throws Problem `invalid` for a page on another host or a product that it does not promote, `conflict` for too many
 */
export function makePageLink(
  app: App,
  affiliate: Id<'affiliate'>,
  { product, page }: BodyOf<typeof Make>,
): PageLink {
  const own = promotable(app, affiliate).find((p) => p.code === product);
  const fault = landingFault(page.trim(), theProgramme(app).landingHosts);
  if (!own || fault)
    throw invalid([
      ...(own ? [] : [atField({ field: 'product', detail: `Product: you do not promote ${product} now` })]),
      ...(fault ? [atField({ field: 'page', detail: `Page: ${fault}`, example: examplePage })] : []),
    ]);
  const what = { product: own.id, page: pageAddress(page.trim()) };
  return app.transaction(() => {
    if (linkOf(app, affiliate, what) === null && countPages(app, affiliate) >= mostPages)
      throw new Problem(
        'conflict',
        `You have ${mostPages} links to pages. Any page can also be named in the address of a link: …/go/CODE?to=PAGE`,
      );
    const code = linkMade(app, affiliate, what);
    return show(app, app.db.select().from(links).where(eq(links.code, code)).all())[0]!;
  });
}
