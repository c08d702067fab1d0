import { eq } from 'drizzle-orm';
import { cached } from '../../ground/cache';
import { type App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { type BankPort, type RegistryPort } from '../../ground/ports';
import { programme } from '../../ground/tables/programme';

export type Programme = typeof programme.$inferSelect;

/** The programme, or null before set-up. */
export const programmeOrNull = cached(
  'records',
  (app): Programme | null => app.db.select().from(programme).where(eq(programme.id, 1)).get() ?? null,
);

/** @throws Problem `conflict` before set-up */
export function theProgramme(app: App): Programme {
  const found = programmeOrNull(app);
  if (!found) throw new Problem('conflict', 'The programme is not set up yet');
  return found;
}

/** The bank connection: only a programme that tries Gravenel out has one, the stand-in. */
export function bankOf(app: App): BankPort | null {
  return programmeOrNull(app)?.demo ? app.bank : null;
}

/** The registry: one that is configured, or for a programme that tries Gravenel out, the stand-in. */
export function registryOf(app: App): RegistryPort | null {
  return app.registry && (!app.registry.standin || programmeOrNull(app)?.demo) ? app.registry.port : null;
}
