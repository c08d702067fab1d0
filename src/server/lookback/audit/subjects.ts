import { eq, inArray } from 'drizzle-orm';
import { isId } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { applications } from '../../ground/tables/applications';
import { products } from '../../ground/tables/catalogue';
import { affiliates } from '../../ground/tables/people';
import { runs } from '../../ground/tables/runs';
import { namesOf } from '../../registers/access/names';

/** The same for whatever a record of the audit is about: people, products, runs and applications. */
export function subjectsOf(app: App, ids: Iterable<string>): (id: string) => string {
  const wanted = [...new Set(ids)];
  const people = namesOf(app, wanted);
  const names = new Map<string, string>([['programme', 'the programme']]);
  const made = wanted.filter((id) => isId(id, 'product'));
  const paid = wanted.filter((id) => isId(id, 'run'));
  const asked = wanted.filter((id) => isId(id, 'application'));
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
  return (id) => names.get(id) ?? (isId(id, 'status') ? 'a status report' : people(id));
}
