import { eq, sql } from 'drizzle-orm';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { staff } from '../../ground/tables/access';

/** A new person of the staff. @param row with the password already hashed */
export function addPerson(app: App, row: typeof staff.$inferInsert): void {
  app.db.insert(staff).values(row).run();
}

/** Changes somebody's role or closes the account: the version grows, so that a form that is open finds out. */
export function changePerson(
  app: App,
  id: Id<'staff'>,
  fields: Partial<Pick<typeof staff.$inferSelect, 'role' | 'active'>>,
): void {
  app.db
    .update(staff)
    .set({ ...fields, version: sql`${staff.version} + 1` })
    .where(eq(staff.id, id))
    .run();
}
