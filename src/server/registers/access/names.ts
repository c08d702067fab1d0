import { eq, inArray } from 'drizzle-orm';
import type { App } from '../../ground/context';
import { affiliates, applications, products, runs, staff } from '../../ground/tables';

const others: Record<string, string> = {
  clock: 'by itself',
  open: 'a visitor',
  rules: 'a screening rule',
  shop: 'the shop',
  bank: 'the bank',
  registry: 'the registry',
  trust: 'trust given before',
};

/** A function from the id of an actor to a name, for the ids given. */
export function namesOf(app: App, ids: Iterable<string | null>): (id: string | null) => string {
  const wanted = [...new Set([...ids].filter((id): id is string => id !== null))];
  const names = new Map<string, string>(Object.entries(others));
  const persons = wanted.filter((id) => id.startsWith('stf_'));
  const partners = wanted.filter((id) => id.startsWith('aff_'));
  if (persons.length)
    for (const row of app.db
      .select({ id: staff.id, name: staff.name })
      .from(staff)
      .where(inArray(staff.id, persons))
      .all())
      names.set(row.id, row.name);
  if (partners.length)
    for (const row of app.db
      .select({ id: affiliates.id, name: affiliates.name })
      .from(affiliates)
      .where(inArray(affiliates.id, partners))
      .all())
      names.set(row.id, row.name);
  return (id) => (id === null ? '' : (names.get(id) ?? id));
}

/** The same for whatever a record of the audit is about: people, products, runs and applications. */
export function subjectsOf(app: App, ids: Iterable<string>): (id: string) => string {
  const wanted = [...new Set(ids)];
  const people = namesOf(app, wanted);
  const of = (prefix: string) => wanted.filter((id) => id.startsWith(prefix));
  const names = new Map<string, string>([['programme', 'the programme']]);
  const [made, paid, asked] = [of('prd_'), of('run_'), of('apl_')];
  if (made.length)
    for (const p of app.db
      .select({ id: products.id, name: products.name })
      .from(products)
      .where(inArray(products.id, made))
      .all())
      names.set(p.id, p.name);
  if (paid.length)
    for (const r of app.db
      .select({ id: runs.id, number: runs.number })
      .from(runs)
      .where(inArray(runs.id, paid))
      .all())
      names.set(r.id, `run ${r.number}`);
  if (asked.length) {
    for (const a of app.db
      .select({ id: applications.id, name: affiliates.name })
      .from(applications)
      .innerJoin(affiliates, eq(affiliates.id, applications.affiliate))
      .where(inArray(applications.id, asked))
      .all())
      names.set(a.id, a.name);
  }
  return (id) => names.get(id) ?? (id.startsWith('sta_') ? 'a status report' : people(id));
}
