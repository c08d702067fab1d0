import { eq } from 'drizzle-orm';
import { touch } from '../../ground/cache';
import type { App } from '../../ground/context';
import type { RegistryEvent } from '../../ground/ports';
import { registrySync } from '../../ground/tables/prospects';
import { registryOf } from '../../registers/programme/record';

/** Events that are asked for at once. */
const inOnePage = 500;

/** The number of the last event that was taken. */
const readTo = (app: App): number =>
  app.db.select({ n: registrySync.outcomes }).from(registrySync).where(eq(registrySync.id, 1)).get()?.n ?? 0;

/**
 * Reads what happened at the registry since the last time: each event once, with the place it was read to in the same
 * transaction.
 * @param take does what an event asks for @returns how many
 */
export async function readEvents(app: App, take: (event: RegistryEvent) => void): Promise<number> {
  const port = registryOf(app);
  if (!port) return 0;
  let count = 0;
  for (;;) {
    const events = await port.events(readTo(app), app.clock.now());
    for (const event of events) {
      app.transaction(() => {
        if (event.number <= readTo(app)) return;
        take(event);
        app.db
          .insert(registrySync)
          .values({ id: 1, outcomes: event.number })
          .onConflictDoUpdate({ target: registrySync.id, set: { outcomes: event.number } })
          .run();
        count += 1;
      });
    }
    if (events.length < inOnePage) break;
  }
  if (count) touch(app, 'records');
  return count;
}
