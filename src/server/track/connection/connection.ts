import { and, desc, eq, isNotNull, sql } from 'drizzle-orm';
import { type Actor, type App } from '../../ground/context';
import { randomText } from '../../ground/db/ids';
import { Problem } from '../../ground/http/problem';
import { keys } from '../../ground/tables/connection';
import { orders } from '../../ground/tables/orders';
import { reports } from '../../ground/tables/reports';
import { visits } from '../../ground/tables/visits';
import { record } from '../../registers/access/audit';
import { theProgramme } from '../../registers/programme/record';
import { newSecret, openedSecret, openedSecrets } from '../reports/signature';
import { connectionReadings } from './readings';
import { recent } from './report-log';

/** Makes a signing key, which takes no pictures until they are switched on for it. @param fixed id and secret of the demo's key, which takes them */
export function createKey(app: App, actor: Actor, label: string, fixed?: { id: string; secret: string }) {
  const id = fixed?.id ?? `key-${randomText(10)}`;
  const secret = fixed?.secret ?? newSecret();
  app.db
    .insert(keys)
    .values({
      id,
      label,
      secret: app.seal.close(secret),
      createdAt: app.clock.now(),
      pictures: fixed !== undefined,
    })
    .run();
  record(app, actor, 'key-created', { subject: id, before: null, after: { label } });
  return { id };
}

/** True where the secret of a key can be read: its seal was not lost. */
function readable(app: App, row: typeof keys.$inferSelect): boolean {
  try {
    openedSecret(app, row.id, row.secret);
    return true;
  } catch {
    return false;
  }
}

/** Names of keys whose secrets cannot be read here: every report signed with them is refused until they are made anew. */
export function lostKeys(app: App): string[] {
  return app.db
    .select()
    .from(keys)
    .all()
    .filter((k) => !readable(app, k))
    .map((k) => `${k.label} (${k.id})`);
}

/** Makes the secret of a key anew, whose seal was lost. @throws Problem `conflict` where it can be read: then there is nothing to mend */
export function renewKey(app: App, actor: Actor, id: string) {
  const row = app.db.select().from(keys).where(eq(keys.id, id)).get();
  if (!row) throw new Problem('not-found', 'This key does not exist');
  if (readable(app, row))
    throw new Problem(
      'conflict',
      'The secret of this key can be read; a key that somebody else may know is left and another one made',
    );
  const secret = newSecret();
  app.db
    .update(keys)
    .set({ secret: app.seal.close(secret) })
    .where(eq(keys.id, id))
    .run();
  openedSecrets(app).delete(id);
  record(app, actor, 'key-renewed', { subject: id, before: null, after: null });
  return { id, secret };
}

export function revealKey(app: App, actor: Actor, id: string) {
  const row = app.db.select().from(keys).where(eq(keys.id, id)).get();
  if (!row) throw new Problem('not-found', 'This key does not exist');
  const secret = openedSecret(app, id, row.secret);
  record(app, actor, 'key-shown', { subject: id, before: null, after: null });
  return { id, secret };
}

/** Whether pages may report sales by the fallback picture with a key. */
export function switchPictures(app: App, actor: Actor, id: string, on: boolean) {
  const row = app.db.select().from(keys).where(eq(keys.id, id)).get();
  if (!row) throw new Problem('not-found', 'This key does not exist');
  if (row.pictures !== on) {
    app.db.update(keys).set({ pictures: on }).where(eq(keys.id, id)).run();
    record(app, actor, on ? 'pictures-on' : 'pictures-off', {
      subject: id,
      before: { pictures: row.pictures },
      after: { pictures: on },
    });
  }
  return { id, pictures: on };
}

/** How many orders of the last 30 days came by both ways. */
export function countDoubled(app: App): number {
  return app.db
    .select({ n: sql<number>`count(*)` })
    .from(orders)
    .where(and(isNotNull(orders.otherWay), sql`${orders.receivedAt} >= ${app.clock.now() - recent}`))
    .get()!.n;
}

export async function readConnection(app: App) {
  const { landingHosts } = theProgramme(app);
  const all = app.db
    .select()
    .from(keys)
    .orderBy(keys.createdAt)
    .all()
    .map((k) => ({
      id: k.id,
      label: k.label,
      createdAt: k.createdAt,
      pictures: k.pictures,
      readable: readable(app, k),
    }));
  const last = (n: number | null | undefined) => n ?? null;
  const key = (all.find((k) => k.pictures) ?? all[0])?.id ?? 'YOUR-KEY';
  return {
    address: app.address,
    shop: app.shop,
    keys: all,
    landingHosts,
    lastVisit: last(app.db.select({ n: visits.at }).from(visits).orderBy(desc(visits.id)).limit(1).get()?.n),
    lastReport: last(
      app.db.select({ n: reports.at }).from(reports).orderBy(desc(reports.id)).limit(1).get()?.n,
    ),
    lastOrder: last(
      app.db.select({ n: orders.receivedAt }).from(orders).orderBy(desc(orders.id)).limit(1).get()?.n,
    ),
    counts: await app.reader.ask(connectionReadings.reportCounts, {}),
    doubled: countDoubled(app),
    snippet: `<script src="${app.address}/gravenel.js" async></script>`,
    picture: `<img src="${app.address}/px/${key}.gif?order=ORDER&amount=129.00&currency=${theProgramme(app).base}&product=CODE&visit=VISIT" width="1" height="1" alt="">`,
  };
}

// ids are in the order of arrival
