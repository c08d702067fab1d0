import { and, eq, isNull, sql } from 'drizzle-orm';
import type { Express, Request, Response } from 'express';
import * as contract from '../../contract/session';
import type { PortalSessionOut, SessionOut } from '../../contract/session';
import { isZone } from '../../core/calendar/zone';
import { isCurrency } from '../../core/money/currency';
import { emailKey } from '../../core/recruiting/evidence';
import type { FieldFault } from '../../contract/explain';
import type { App } from '../context';
import { changed, programmeOrNull } from '../context';
import { newId } from '../db/ids';
import { affiliates, invitations, programme, staff } from '../db/schema';
import { invalid, Problem, refuse } from '../http/problem';
import { seenAs, serve } from '../http/serve';
import { affiliateOf, beginSession, endSession, endSessionsOf, staffOf } from '../http/session';
import { portalProgramme } from '../portal/service';
import { hash } from '../seal';
import { record } from './audit';
import { fits, hashPassword, Throttle } from './passwords';

const perAccount = new Throttle(6);
const perAddress = new Throttle(40);
const invitationLasts = 30 * 86_400_000;

/** Tries a password with both throttles. @throws Problem `too-many` or `not-signed-in` */
async function trySignIn(app: App, req: Request, kind: string, email: string, stored: string | null | undefined, password: string): Promise<void> {
  const now = app.clock.real();
  const account = `${kind}:${emailKey(email)}`;
  const address = req.ip ?? 'unknown';
  const wait = Math.max(perAccount.wait(account, now), perAddress.wait(address, now));
  if (wait) throw new Problem('too-many', `Too many failed sign-ins; try again in ${Math.ceil(wait / 60)} minutes`, { retryAfter: wait });
  if (await fits(stored, password)) {
    perAccount.clear(account);
    return;
  }
  perAccount.fail(account, now);
  perAddress.fail(address, now);
  throw new Problem('not-signed-in', 'The e-mail address and the password do not belong together', { errors: [{ pointer: '/password', detail: 'Address and password do not belong together' }] });
}

function describe(app: App, person: { id: string; name: string; role: 'owner' | 'manager' | 'finance' | 'viewer' } | null): SessionOut {
  const p = programmeOrNull(app);
  return {
    state: !p ? 'set-up' : person ? 'signed-in' : 'signed-out', person: person ? { id: person.id, name: person.name, role: person.role } : null,
    programme: p ? { name: p.name, base: p.base, zone: p.zone } : null, demo: p?.demo ?? false, now: app.clock.now(),
  };
}

function describePortal(app: App, person: typeof affiliates.$inferSelect | null): PortalSessionOut {
  const p = programmeOrNull(app);
  return {
    state: !p ? 'set-up' : person ? 'signed-in' : 'signed-out', person: person ? { id: person.id, name: person.name, state: person.state } : null,
    programme: p ? portalProgramme(app) : null, now: app.clock.now(),
  };
}

interface SetUp { merchant: string; contact: string; currency: string; zone: string; owner: string; email: string; password: string; tryOut: boolean }

/** Creates the programme and its first owner. @throws Problem `conflict` if there is a programme */
export async function setUp(app: App, input: SetUp): Promise<typeof staff.$inferSelect> {
  const faults: FieldFault[] = [];
  const currency = input.currency.toUpperCase();
  if (!isCurrency(currency)) faults.push({ pointer: '/currency', detail: `Base currency ${input.currency} is not known`, example: 'EUR' });
  if (!isZone(input.zone)) faults.push({ pointer: '/zone', detail: `Time zone ${input.zone} is not known`, example: 'Europe/Lisbon' });
  if (faults.length) throw invalid(faults);
  const password = await hashPassword(input.password);
  return app.transaction(() => {
    if (programmeOrNull(app)) throw new Problem('conflict', 'The programme is set up already; sign in instead');
    app.db.insert(programme).values({ id: 1, name: input.merchant.trim(), contact: input.contact.trim(), base: currency, zone: input.zone, debtorName: input.merchant.trim(), demo: input.tryOut, clockAt: input.tryOut ? app.clock.now() : null }).run();
    const id = newId('staff');
    app.db.insert(staff).values({ id, name: input.owner.trim(), email: emailKey(input.email), role: 'owner', password, createdAt: app.clock.now() }).run();
    changed(app);
    record(app, { kind: 'staff', id }, 'programme-set-up', 'programme', null, { name: input.merchant.trim(), base: currency, zone: input.zone });
    return app.db.select().from(staff).where(eq(staff.id, id)).get()!;
  });
}

async function setPassword(app: App, token: string, password: string): Promise<typeof affiliates.$inferSelect> {
  const where = eq(invitations.tokenHash, hash(token));
  const row = app.db.select().from(invitations).where(and(where, isNull(invitations.usedAt))).get();
  if (!row || row.createdAt < app.clock.real() - invitationLasts) throw refuse('token', 'This link was used already or is older than 30 days; ask the merchant for a new one');
  const stored = await hashPassword(password);
  return app.transaction(() => {
    const used = app.db.update(invitations).set({ usedAt: app.clock.real() }).where(and(where, isNull(invitations.usedAt))).run();
    if (used.changes !== 1) throw refuse('token', 'This link was used already');
    app.db.update(affiliates).set({ password: stored, version: sql`${affiliates.version} + 1` }).where(eq(affiliates.id, row.affiliate)).run();
    endSessionsOf(app, 'affiliate', row.affiliate);
    record(app, { kind: 'affiliate', id: row.affiliate }, 'password-set', row.affiliate, null, null);
    return app.db.select().from(affiliates).where(eq(affiliates.id, row.affiliate)).get()!;
  });
}

export function sessionRoutes(server: Express, app: App): void {
  serve(server, app, contract.readSession, ({ req }) => describe(app, staffOf(app, req)));
  serve(server, app, contract.signIn, async ({ body, req, res }: { body: { email: string; password: string }; req: Request; res: Response }) => {
    const person = app.db.select().from(staff).where(and(eq(staff.email, emailKey(body.email)), eq(staff.active, true))).get();
    await trySignIn(app, req, 'staff', body.email, person?.password, body.password);
    beginSession(app, req, res, 'staff', person!.id);
    return describe(app, person!);
  });
  serve(server, app, contract.signOut, ({ req, res }) => {
    endSession(app, req, res, 'staff');
    return describe(app, null);
  });
  serve(server, app, contract.setUp, async ({ body, req, res }) => {
    const person = await setUp(app, body);
    beginSession(app, req, res, 'staff', person.id);
    return describe(app, person);
  });
  serve(server, app, contract.readPortalSession, ({ req }) => {
    const seen = programmeOrNull(app) ? seenAs(app, req) : null;
    return describePortal(app, seen === null ? affiliateOf(app, req) : app.db.select().from(affiliates).where(eq(affiliates.id, seen)).get() ?? null);
  });
  serve(server, app, contract.signInPortal, async ({ body, req, res }) => {
    const person = app.db.select().from(affiliates).where(eq(affiliates.emailKey, emailKey(body.email))).get();
    await trySignIn(app, req, 'affiliate', body.email, person?.state === 'blocked' ? null : person?.password, body.password);
    beginSession(app, req, res, 'affiliate', person!.id);
    return describePortal(app, person!);
  });
  serve(server, app, contract.signOutPortal, ({ req, res }) => {
    endSession(app, req, res, 'affiliate');
    return describePortal(app, null);
  });
  serve(server, app, contract.setPortalPassword, async ({ body, req, res }) => {
    const person = await setPassword(app, body.token, body.password);
    if (person.state === 'blocked') throw new Problem('forbidden', 'This account is closed');
    beginSession(app, req, res, 'affiliate', person.id);
    return describePortal(app, person);
  });
}
