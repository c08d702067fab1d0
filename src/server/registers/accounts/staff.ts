import { and, eq, sql } from 'drizzle-orm';
import { emailKey } from '../../../core/recruiting/evidence';
import type { Id } from '../../../core/text/id';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem, refuse } from '../../ground/http/problem';
import { staff } from '../../ground/tables/access';
import { record } from '../access/audit';
import { endSessionsOf } from '../access/session';
import { stale } from '../access/stale';
import { addPerson, changePerson } from '../access/write';

type StaffRecord = typeof staff.$inferSelect;

const shown = ({ id, name, email, role, active, createdAt, version }: StaffRecord) => ({
  id,
  name,
  email,
  role,
  active,
  createdAt,
  version,
});

export function listStaff(app: App) {
  return { rows: app.db.select().from(staff).orderBy(staff.createdAt, staff.id).all().map(shown) };
}

/** @param password already hashed: hashing is slow and happens before the transaction */
export function addStaff(
  app: App,
  actor: Actor,
  input: { name: string; email: string; role: StaffRecord['role'] },
  password: string,
) {
  const email = emailKey(input.email);
  if (app.db.select({ id: staff.id }).from(staff).where(eq(staff.email, email)).get())
    throw refuse('email', `E-mail address ${email} belongs to somebody of the staff already`);
  const id = newId('staff');
  addPerson(app, {
    id,
    name: input.name.trim(),
    email,
    role: input.role,
    password,
    createdAt: app.clock.now(),
  });
  record(app, actor, 'staff-added', {
    subject: id,
    before: null,
    after: { name: input.name.trim(), role: input.role },
  });
  return shown(app.db.select().from(staff).where(eq(staff.id, id)).get()!);
}

export function editStaff(
  app: App,
  actor: Actor,
  id: Id<'staff'>,
  input: { role: StaffRecord['role']; active: boolean; version: number },
) {
  const row = app.db.select().from(staff).where(eq(staff.id, id)).get();
  if (!row) throw new Problem('not-found', 'This person does not exist');
  if (row.version !== input.version) throw stale(app, id, row.name, shown(row));
  const owners = app.db
    .select({ n: sql<number>`count(*)` })
    .from(staff)
    .where(and(eq(staff.role, 'owner'), eq(staff.active, true)))
    .get()!.n;
  if (row.role === 'owner' && row.active && owners === 1 && (input.role !== 'owner' || !input.active))
    throw new Problem('conflict', 'One owner must remain: make somebody else owner first');
  changePerson(app, id, { role: input.role, active: input.active });
  endSessionsOf(app, id);
  record(app, actor, 'staff-changed', {
    subject: id,
    before: { role: row.role, active: row.active },
    after: { role: input.role, active: input.active },
  });
  return shown(app.db.select().from(staff).where(eq(staff.id, id)).get()!);
}
