import { eq, inArray } from 'drizzle-orm';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { affiliates } from '../../ground/tables/people';

/** Names of affiliates by id; those that do not exist are left out. */
export function affiliateNames(app: App, ids: Iterable<Id<'affiliate'>>): Map<string, string> {
  const wanted = [...new Set(ids)];
  const names = new Map<string, string>();
  for (let i = 0; i < wanted.length; i += 500) {
    for (const a of app.db
      .select({ id: affiliates.id, name: affiliates.name })
      .from(affiliates)
      .where(inArray(affiliates.id, wanted.slice(i, i + 500)))
      .all())
      names.set(a.id, a.name);
  }
  return names;
}

/** A handle that nobody has yet, made of a name. */
export function handleFor(app: App, name: string): string {
  const plain =
    name
      .normalize('NFKD')
      .replace(/[\u0300-\u036f]/g, '')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 30) || 'affiliate';
  for (let n = 1; ; n += 1) {
    const handle = n === 1 ? plain : `${plain}-${n}`;
    if (!app.db.select({ id: affiliates.id }).from(affiliates).where(eq(affiliates.handle, handle)).get())
      return handle;
  }
}
