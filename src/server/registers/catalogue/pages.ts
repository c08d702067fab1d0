import { and, inArray, ne } from 'drizzle-orm';
import type { ProductOut } from '../../../contract/setup/products';
import { formatMoment } from '../../../core/calendar/format';
import { type App } from '../../ground/context';
import { reach } from '../../ground/http/reach';
import { pageChecks, products } from '../../ground/tables/catalogue';
import { theProgramme } from '../programme/record';
import { detailsOf } from './details';
import type { ProductRecord } from './store';

const again = { unreachable: 10 * 60_000, reachable: 24 * 3_600_000 };

/** Every page that a product's links may lead to, with what it is for. */
function pagesOf(row: Pick<ProductRecord, 'salesPage' | 'details'>): { role: string; address: string }[] {
  const d = detailsOf(row);
  const all = [
    ['sales page', row.salesPage],
    ['mobile page', d.mobilePage],
    ['fallback page', d.fallbackPage],
    ['pre-launch page', d.prelaunchPage],
    ['access page', d.accessPage],
    ...d.furtherPages.map((p) => ['further page', p]),
  ] as [string, string][];
  return all.filter(([, address]) => address !== '').map(([role, address]) => ({ role, address }));
}

/** The pages of a product with what was found when they were last looked at. */
export function showPages(app: App, row: ProductRecord): ProductOut['pages'] {
  const pages = pagesOf(row);
  if (!pages.length) return [];
  const { zone } = theProgramme(app);
  const known = new Map(
    app.db
      .select()
      .from(pageChecks)
      .where(
        inArray(
          pageChecks.address,
          pages.map((p) => p.address),
        ),
      )
      .all()
      .map((c) => [c.address, c]),
  );
  return pages.map(({ role, address }) => {
    const c = known.get(address);
    if (!c) return { role, address, at: null, ok: null, said: 'not looked at yet' };
    return {
      role,
      address,
      at: c.at,
      ok: c.fault === null,
      said: c.fault ?? `answered ${c.status} on ${formatMoment(c.at, zone)}`,
    };
  });
}

/** Where a stand-in of the demo plays a host, its address; a page on a stand-in itself is its own. */
const playedBy =
  (app: App) =>
  (host: string): string | undefined => {
    const shop = app.shop === null ? null : new URL(app.shop);
    return app.aliases.get(host) ?? (shop?.host === host ? shop.origin : undefined);
  };

/** Asks a page once and keeps what was found. */
async function look(app: App, address: string): Promise<void> {
  const { status, fault } = await reach(address, playedBy(app));
  if (!app.sqlite.open) return;
  const at = app.clock.now();
  app.db
    .insert(pageChecks)
    .values({ address, at, status, fault })
    .onConflictDoUpdate({ target: pageChecks.address, set: { at, status, fault } })
    .run();
}

/** Looks at every page of a product now. */
export async function checkPagesOf(app: App, row: ProductRecord): Promise<void> {
  await Promise.all([...new Set(pagesOf(row).map((p) => p.address))].map((address) => look(app, address)));
}

/** Looks again at pages of products on sale, and at some others: at those that did not answer every ten minutes, at the others once a day. @returns how many */
export async function checkDuePages(app: App, others: readonly string[] = [], most = 5): Promise<number> {
  const now = app.clock.now();
  const wanted = new Set([
    ...others,
    ...app.db
      .select()
      .from(products)
      .where(and(ne(products.state, 'draft'), ne(products.state, 'retired')))
      .all()
      .flatMap((p) => pagesOf(p).map((x) => x.address)),
  ]);
  const fresh = new Set(
    app.db
      .select()
      .from(pageChecks)
      .all()
      .filter((c) => c.at > now - (c.fault === null ? again.reachable : again.unreachable))
      .map((c) => c.address),
  );
  const due = [...wanted].filter((a) => !fresh.has(a)).slice(0, most);
  await Promise.all(due.map((address) => look(app, address)));
  return due.length;
}
