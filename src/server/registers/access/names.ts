import { inArray } from 'drizzle-orm';
import { isId } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { staff } from '../../ground/tables/access';
import { affiliates } from '../../ground/tables/people';

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
  const persons = wanted.filter((id) => isId(id, 'staff'));
  const partners = wanted.filter((id) => isId(id, 'affiliate'));
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
