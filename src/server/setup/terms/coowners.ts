import { eq } from 'drizzle-orm';
import type { BodyOf, ReplyOf } from '../../../contract/endpoint';
import type { FieldFault } from '../../../contract/explain';
import type { addPartner as AddCall, setCoOwners as SetCall } from '../../../contract/setup/shares';
import { inForce, isEmpty, isOver } from '../../../core/calendar/span';
import { formatPercent, parsePercent, percentDigits, wholePpm } from '../../../core/money/percent';
import { emailKey } from '../../../core/recruiting/evidence';
import { sharedMeanwhile, type CoOwner } from '../../../core/terms/shares';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { perApp, rowsBy } from '../../ground/db/prepared';
import { invalid, Problem, refuse } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';
import { coOwners } from '../../ground/tables/terms';
import { record } from '../../registers/access/audit';
import { stale } from '../../registers/access/stale';
import { productById } from '../../registers/catalogue/store';
import { queue, withAccess } from '../../registers/outbox/queue';
import { handleFor } from '../../registers/people/names';
import { detailsComplete } from '../../registers/people/record';
import { addAffiliate } from '../../registers/people/write';
import { theProgramme } from '../../registers/programme/record';
import { earliestCut } from './cuts';

type OwnerRecord = typeof coOwners.$inferSelect;

const statements = perApp((app) => ({ of: rowsBy(app, coOwners, ['product'], { inOrderOf: 'id' }) }));

/** The partners in a product at a moment. */
export function ownersAt(app: App, product: Id<'product'>, at: number): CoOwner[] {
  return statements(app)
    .of.all(product)
    .filter((o) => inForce(o, at));
}

export function readCoOwners(app: App, product: Id<'product'>): ReplyOf<typeof SetCall> {
  if (!productById(app, product)) throw new Problem('not-found', 'This product does not exist');
  const rows = app.db
    .select({ o: coOwners, who: affiliates })
    .from(coOwners)
    .innerJoin(affiliates, eq(affiliates.id, coOwners.payee))
    .where(eq(coOwners.product, product))
    .orderBy(coOwners.id)
    .all();
  const now = app.clock.now();
  return {
    rows: rows
      .filter(({ o }) => inForce(o, now))
      .map(({ o, who }) => ({
        payee: o.payee,
        name: who.name,
        handle: who.handle,
        percent: percentDigits(o.ppm),
        from: o.from,
        until: o.until,
        promotes: who.promotes,
        detailsComplete: detailsComplete(who),
      })),
    coming: rows
      .filter(({ o }) => o.from > now && !isEmpty(o))
      .map(({ o, who }) => ({ name: who.name, percent: percentDigits(o.ppm), from: o.from })),
    past: rows.flatMap(({ o, who }) =>
      o.until !== null && o.until > o.from && isOver(o, now)
        ? [{ name: who.name, percent: percentDigits(o.ppm), from: o.from, until: o.until }]
        : [],
    ),
  };
}

type OwnerIn = BodyOf<typeof SetCall>['owners'][number];

/** One line of the form: who, and the share in parts per million; or what is wrong with it. */
function readOwner(
  app: App,
  { payee, percent }: OwnerIn,
  already: ReadonlyMap<Id<'affiliate'>, number>,
): number | { field: 'payee' | 'percent'; detail: string; example?: string } {
  const who = app.db.select().from(affiliates).where(eq(affiliates.id, payee)).get();
  if (!who) return { field: 'payee', detail: 'This person does not exist' };
  if (who.state === 'blocked' || who.state === 'ended')
    return { field: 'payee', detail: `${who.name} is ${who.state} and cannot be paid a share` };
  if (already.has(payee))
    return {
      field: 'payee',
      detail: `${who.name} is named twice: one share each`,
      example: 'one line with the sum',
    };
  const parsed = parsePercent(percent);
  if (parsed.ok && parsed.value > 0) return parsed.value;
  const why = parsed.ok ? '0 % is no share; take the line out' : parsed.reason;
  return { field: 'percent', detail: `Co-owner share of ${who.name}: ${why}`, example: '25' };
}

/** Shares by payee, parts per million. @throws Problem `invalid` with every fault */
function readOwners(app: App, owners: OwnerIn[]): Map<Id<'affiliate'>, number> {
  const faults: FieldFault[] = [];
  const next = new Map<Id<'affiliate'>, number>();
  owners.forEach((owner, i) => {
    const read = readOwner(app, owner, next);
    if (typeof read === 'number') next.set(owner.payee, read);
    else {
      const { field, ...said } = read;
      faults.push({ pointer: `/owners/${i}/${field}`, ...said });
    }
  });
  const sum = [...next.values()].reduce((a, b) => a + b, 0);
  if (sum > wholePpm)
    faults.push({
      pointer: '/owners',
      detail: `Co-owners would share ${formatPercent(sum)} of what a sale leaves: together at most 100 %`,
      example: '50 and 50',
    });
  if (faults.length) throw invalid(faults);
  return next;
}

const endShare = (app: App, { id }: OwnerRecord, until: number | null): void => {
  app.db.update(coOwners).set({ until }).where(eq(coOwners.id, id)).run();
};

/** Withdraws what is scheduled for a product: it never begins, and what is in force runs on. @returns what is in force */
function withdrawComing(app: App, product: Id<'product'>): OwnerRecord[] {
  const now = app.clock.now();
  const rows = statements(app)
    .of.all(product)
    .filter((o) => !isEmpty(o) && !isOver(o, now));
  for (const o of rows) if (o.from > now) endShare(app, o, o.from);
  const current = rows.filter((o) => o.from <= now);
  for (const o of current) if (o.until !== null) endShare(app, o, null);
  return current;
}

/**
 * Ends the shares that are not the same, and begins the others: at once, or where somebody would get less, after the
 * promised notice. What others would get more waits as well where there is no room for it before.
 */
function writeOwners(
  app: App,
  actor: Actor,
  product: Id<'product'>,
  next: ReadonlyMap<Id<'affiliate'>, number>,
): void {
  const now = app.clock.now();
  const current = withdrawComing(app, product);
  const isLower = (o: OwnerRecord) => (next.get(o.payee) ?? 0) < o.ppm;
  const later = current.some(isLower) ? earliestCut(app) : now;
  const raises = sharedMeanwhile(current, next) > wholePpm ? later : now;
  const startOf = (payee: string) => (current.some((o) => o.payee === payee && isLower(o)) ? later : raises);
  for (const o of current)
    if (next.get(o.payee) !== o.ppm) endShare(app, o, Math.max(startOf(o.payee), o.from));
  for (const [payee, ppm] of next)
    if (!current.some((o) => o.payee === payee && o.ppm === ppm))
      app.db
        .insert(coOwners)
        .values({
          ...{ id: newId('coOwner'), product, payee, ppm },
          ...{ from: startOf(payee), until: null, by: actor.id },
        })
        .run();
}

/** Undoes a change of co-owners' shares that has not begun. */
export function undoCoOwner(app: App, actor: Actor, row: OwnerRecord): void {
  withdrawComing(app, row.product);
  record(app, actor, 'co-owners-undone', {
    subject: row.product,
    before: { percent: percentDigits(row.ppm), payee: row.payee },
    after: null,
  });
}

const asText = (list: { payee: string; percent: string }[]) =>
  JSON.stringify(list.map((o) => [o.payee, o.percent]).sort());

const ownersInWords = (list: { name: string; percent: string }[]) => ({
  owners: list.map((o) => `${o.name} ${o.percent} %`).join(', ') || 'none',
});

/** Sets who has a share of a product: unchanged shares run on, others end and begin, a lower one after the promised notice. */
export function setCoOwners(
  app: App,
  actor: Actor,
  product: Id<'product'>,
  input: BodyOf<typeof SetCall>,
): ReplyOf<typeof SetCall> {
  const before = readCoOwners(app, product);
  if (asText(before.rows) !== asText(input.expects)) throw stale(app, product, 'the co-owners', before);
  writeOwners(app, actor, product, readOwners(app, input.owners));
  const after = readCoOwners(app, product);
  if (asText(after.rows) !== asText(before.rows))
    record(app, actor, 'co-owners-set', {
      subject: product,
      before: ownersInWords(before.rows),
      after: ownersInWords(after.rows),
    });
  return after;
}

/** Adds somebody who has a share and promotes nothing: known by the e-mail address, paid like an affiliate, invited to the portal. */
export function addPartner(app: App, actor: Actor, input: BodyOf<typeof AddCall>): ReplyOf<typeof AddCall> {
  const key = emailKey(input.email);
  const known = app.db.select().from(affiliates).where(eq(affiliates.emailKey, key)).get();
  if (known)
    throw refuse(
      'email',
      `E-mail address ${input.email.trim()} is ${known.name}'s already: choose ${known.name} instead`,
    );
  const id = newId('affiliate');
  const now = app.clock.now();
  const handle = handleFor(app, input.name);
  const name = input.name.trim();
  addAffiliate(app, {
    id,
    handle,
    name,
    email: input.email.trim(),
    emailKey: key,
    country: input.country,
    sites: [],
    state: 'active',
    promotes: false,
    createdAt: now,
    joinedAt: now,
  });
  record(app, actor, 'partner-added', {
    subject: id,
    before: null,
    after: { name, email: input.email.trim() },
  });
  const { name: merchant, contact } = theProgramme(app);
  queue(app, {
    to: input.email.trim(),
    affiliate: id,
    kind: 'partner-added',
    subject: `Your shares of sales at ${merchant}`,
    subjectOf: id,
    body: withAccess(
      app,
      { password: null },
      `Hello ${name},\n\nyou have a share of what we sell. The portal shows each sale with its working, and asks where to pay you.\n\n`,
      `\n\nQuestions: ${contact}\n\n${merchant}`,
    ),
  });
  touch(app, 'terms');
  touch(app, 'records');
  return { id, name, handle };
}

/** Products that somebody has a share of now. */
export function ownedBy(app: App, payee: Id<'affiliate'>): { product: Id<'product'>; ppm: number }[] {
  const now = app.clock.now();
  return app.db
    .select()
    .from(coOwners)
    .where(eq(coOwners.payee, payee))
    .all()
    .filter((o) => inForce(o, now))
    .map(({ product, ppm }) => ({ product, ppm }));
}
