import type { Actor, App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { insertion, perApp } from '../../ground/db/prepared';
import { audit } from '../../ground/tables/access';

const entries = perApp((app) => insertion(app, audit));

/** Writes who did what to which record, with what changed. Call inside the transaction of the change. */
export function record(
  app: App,
  actor: Actor,
  action: string,
  { subject, before, after }: { subject: string; before: unknown; after: unknown },
): void {
  entries(app).run({
    id: newId('audit'),
    at: app.clock.now(),
    by: actor.id,
    action,
    subject,
    before: before ?? null,
    after: after ?? null,
  });
}

/** The fields that differ, as they were and as they are: what an audit entry keeps of an edit. */
export function difference<T extends object>(
  before: T,
  after: Partial<T>,
): { before: Partial<T>; after: Partial<T> } {
  const changed = (Object.keys(after) as (keyof T)[]).filter(
    (k) => k !== 'version' && JSON.stringify(before[k]) !== JSON.stringify(after[k]),
  );
  const pick = (from: Partial<T>) => Object.fromEntries(changed.map((k) => [k, from[k]])) as Partial<T>;
  return { before: pick(before), after: pick(after) };
}
