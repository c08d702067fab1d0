import { eq, inArray, sql } from 'drizzle-orm';
import { isId, type IdKind } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { applications } from '../../ground/tables/applications';
import { products } from '../../ground/tables/catalogue';
import { coupons } from '../../ground/tables/coupons';
import { creatives } from '../../ground/tables/creatives';
import { affiliates } from '../../ground/tables/people';
import { requests } from '../../ground/tables/requests';
import { runs } from '../../ground/tables/runs';
import { namesOf } from '../../registers/access/names';

type Named = readonly { id: string; name: string }[];

/** Those of some ids that are of a kind, by what they are called. */
const readers: { kind: IdKind; read: (app: App, ids: string[]) => Named }[] = [
  {
    kind: 'product',
    read: ({ db }, ids) =>
      db
        .select({ id: products.id, name: products.name })
        .from(products)
        .where(inArray(sql`${products.id}`, ids))
        .all(),
  },
  {
    kind: 'run',
    read: ({ db }, ids) =>
      db
        .select({ id: runs.id, number: runs.number })
        .from(runs)
        .where(inArray(sql`${runs.id}`, ids))
        .all()
        .map(({ id, number }) => ({ id, name: `run ${number}` })),
  },
  {
    kind: 'application',
    read: ({ db }, ids) =>
      db
        .select({ id: applications.id, name: affiliates.name })
        .from(applications)
        .innerJoin(affiliates, eq(affiliates.id, applications.affiliate))
        .where(inArray(sql`${applications.id}`, ids))
        .all(),
  },
  {
    kind: 'creative',
    read: ({ db }, ids) =>
      db
        .select({ id: creatives.id, name: creatives.name })
        .from(creatives)
        .where(inArray(sql`${creatives.id}`, ids))
        .all(),
  },
  {
    kind: 'coupon',
    read: ({ db }, ids) =>
      db
        .select({ id: coupons.id, name: coupons.code })
        .from(coupons)
        .where(inArray(sql`${coupons.id}`, ids))
        .all(),
  },
  {
    kind: 'request',
    read: ({ db }, ids) =>
      db
        .select({ id: requests.id, name: affiliates.name })
        .from(requests)
        .innerJoin(affiliates, eq(affiliates.id, requests.affiliate))
        .where(inArray(sql`${requests.id}`, ids))
        .all(),
  },
];

/** A function from whatever a record of the audit is about to a name: people, products, runs, applications, creatives, coupons, what was asked for. */
export function subjectsOf(app: App, ids: Iterable<string>): (id: string) => string {
  const wanted = [...new Set(ids)];
  const people = namesOf(app, wanted);
  const names = new Map<string, string>([['programme', 'the programme']]);
  for (const { kind, read } of readers) {
    const own = wanted.filter((id) => isId(id, kind));
    if (own.length) for (const { id, name } of read(app, own)) names.set(id, name);
  }
  return (id) => names.get(id) ?? (isId(id, 'status') ? 'a status report' : people(id));
}
