import { randomBytes } from 'node:crypto';
import { and, desc, eq, gte, lt, ne, or } from 'drizzle-orm';
import type { Request, Response } from 'express';
import { isId, type Id } from '../../../core/text/id';
import type { App, PersonId } from '../../ground/context';
import { hash } from '../../ground/seal';
import { sessions, staff } from '../../ground/tables/access';
import { affiliates } from '../../ground/tables/people';

export type SessionKind = 'staff' | 'affiliate';
const cookieNames: Record<SessionKind, string> = { staff: 'gravenel_desk', affiliate: 'gravenel_portal' };
const idle = 12 * 3_600_000;
const absolute = 14 * 86_400_000;
const touchEvery = 60_000;

/** One value of the Cookie header. */
export function readCookie(header: string | undefined, name: string): string | undefined {
  for (const part of (header ?? '').split(';')) {
    const at = part.indexOf('=');
    if (at > 0 && part.slice(0, at).trim() === name) return part.slice(at + 1).trim();
  }
  return undefined;
}

/** Begins a session; an older one of the same browser ends. The cookie is not readable by scripts. */
export function beginSession(
  app: App,
  req: Request,
  res: Response,
  { kind, person }: { kind: SessionKind; person: PersonId },
): void {
  endSession(app, req, res, kind);
  const token = randomBytes(32).toString('base64url');
  const now = app.clock.real();
  app.db
    .delete(sessions)
    .where(or(lt(sessions.seenAt, now - idle), lt(sessions.createdAt, now - absolute)))
    .run();
  app.db
    .insert(sessions)
    .values({ tokenHash: hash(token), kind, person, createdAt: now, seenAt: now })
    .run();
  res.cookie(cookieNames[kind], token, {
    httpOnly: true,
    sameSite: 'lax',
    path: '/',
    secure: app.address.startsWith('https:'),
    maxAge: absolute,
  });
}

export function endSession(app: App, req: Request, res: Response, kind: SessionKind): void {
  const token = readCookie(req.headers.cookie, cookieNames[kind]);
  if (token)
    app.db
      .delete(sessions)
      .where(eq(sessions.tokenHash, hash(token)))
      .run();
  res.clearCookie(cookieNames[kind], { httpOnly: true, sameSite: 'lax', path: '/' });
}

/** Ends every session of a person: after a change of password, role or state. */
export function endSessionsOf(app: App, person: PersonId): void {
  app.db.delete(sessions).where(eq(sessions.person, person)).run();
}

const hashOf = (req: Request, kind: SessionKind): string | null => {
  const token = readCookie(req.headers.cookie, cookieNames[kind]);
  return token ? hash(token) : null;
};

/** Where a person is signed in, the newest first: when each began and was last used, real time. @param req of the one that asks */
export function sessionsOf(app: App, person: Id<'affiliate'>, req: Request) {
  const own = hashOf(req, 'affiliate');
  const now = app.clock.real();
  return app.db
    .select()
    .from(sessions)
    .where(
      and(
        eq(sessions.person, person),
        gte(sessions.seenAt, now - idle),
        gte(sessions.createdAt, now - absolute),
      ),
    )
    .orderBy(desc(sessions.seenAt))
    .all()
    .map((row) => ({ begun: row.createdAt, seen: row.seenAt, isThis: row.tokenHash === own }));
}

/** Ends every session of an affiliate but the one that asks. @returns how many */
export function endOtherSessions(app: App, req: Request, person: Id<'affiliate'>): number {
  const own = hashOf(req, 'affiliate') ?? '';
  return app.db
    .delete(sessions)
    .where(and(eq(sessions.person, person), ne(sessions.tokenHash, own)))
    .run().changes;
}

function personOf<K extends SessionKind>(app: App, req: Request, kind: K): Id<K> | null {
  const token = readCookie(req.headers.cookie, cookieNames[kind]);
  if (!token) return null;
  const row = app.db
    .select()
    .from(sessions)
    .where(eq(sessions.tokenHash, hash(token)))
    .get();
  const now = app.clock.real();
  if (!row || row.kind !== kind || now - row.seenAt > idle || now - row.createdAt > absolute) return null;
  if (now - row.seenAt > touchEvery)
    app.db.update(sessions).set({ seenAt: now }).where(eq(sessions.tokenHash, row.tokenHash)).run();
  return isId(row.person, kind) ? row.person : null;
}

/** The signed-in person of the staff, or null. */
export function staffOf(app: App, req: Request) {
  const person = personOf(app, req, 'staff');
  const row = person ? app.db.select().from(staff).where(eq(staff.id, person)).get() : undefined;
  return row?.active ? row : null;
}

/** The signed-in affiliate, or null. Whoever is blocked has no portal. */
export function affiliateOf(app: App, req: Request) {
  const person = personOf(app, req, 'affiliate');
  const row = person ? app.db.select().from(affiliates).where(eq(affiliates.id, person)).get() : undefined;
  return row && row.state !== 'blocked' ? row : null;
}
