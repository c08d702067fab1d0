import { eq } from 'drizzle-orm';
import type { App } from '../../ground/context';
import { programme } from '../../ground/tables/programme';
import type { Programme } from './record';

/** Begins the programme: there is one. */
export function beginProgramme(app: App, row: Omit<typeof programme.$inferInsert, 'id'>): void {
  app.db
    .insert(programme)
    .values({ id: 1, ...row })
    .run();
}

/** Changes the programme's record. What is kept of it is dropped by whoever changes it, once all is written. */
export function changeProgramme(app: App, fields: Partial<Omit<Programme, 'id'>>): void {
  app.db.update(programme).set(fields).where(eq(programme.id, 1)).run();
}
