import { and, eq } from 'drizzle-orm';
import type { Express } from 'express';
import type { FieldFault } from '../../contract/explain';
import type { PortalSessionOut, SessionOut } from '../../contract/session';
import * as contract from '../../contract/session';
import { isZone } from '../../core/calendar/zone';
import { isCurrency } from '../../core/money/currency';
import { emailKey } from '../../core/recruiting/evidence';
import { touch } from '../ground/cache';
import { type App } from '../ground/context';
import { newId } from '../ground/db/ids';
import { invalid, Problem } from '../ground/http/problem';
import { serve } from '../ground/http/serve';
import { affiliates, programme, staff } from '../ground/tables';
import { changePassword, forgotPassword, setByLink } from '../registers/access/accounts';
import { record } from '../registers/access/audit';
import { checkStrength, hashPassword } from '../registers/access/passwords';
import { affiliateOf, beginSession, endSession, staffOf } from '../registers/access/session';
import { countTry, goodTry, trySignIn } from '../registers/access/signin';
import { seenAs } from '../registers/access/who';
import { programmeOrNull, theProgramme } from '../registers/programme/record';
import { acceptTicked } from '../setup/policy/service';
import { portalProgramme } from './service';

function describe(
  app: App,
  person: { id: string; name: string; role: 'owner' | 'manager' | 'finance' | 'viewer' } | null,
): SessionOut {
  const p = programmeOrNull(app);
  return {
    state: !p ? 'set-up' : person ? 'signed-in' : 'signed-out',
    person: person ? { id: person.id, name: person.name, role: person.role } : null,
    programme: p ? { name: p.name, base: p.base, zone: p.zone } : null,
    demo: p?.demo ?? false,
    now: app.clock.now(),
  };
}

function describePortal(app: App, person: typeof affiliates.$inferSelect | null): PortalSessionOut {
  const p = programmeOrNull(app);
  return {
    state: !p ? 'set-up' : person ? 'signed-in' : 'signed-out',
    person: person ? { id: person.id, name: person.name, state: person.state } : null,
    programme: p ? portalProgramme(app) : null,
    now: app.clock.now(),
  };
}

interface SetUp {
  merchant: string;
  contact: string;
  currency: string;
  zone: string;
  owner: string;
  email: string;
  password: string;
  tryOut: boolean;
}

function refuseSecondSetUp(app: App): void {
  if (programmeOrNull(app)) throw new Problem('conflict', 'The programme is set up already; sign in instead');
}

/** Creates the programme and its first owner. @throws Problem `conflict` if there is a programme */
export async function setUp(app: App, input: SetUp): Promise<typeof staff.$inferSelect> {
  const faults: FieldFault[] = [];
  const currency = input.currency.toUpperCase();
  if (!isCurrency(currency))
    faults.push({
      pointer: '/currency',
      detail: `Base currency ${input.currency} is not known`,
      example: 'EUR',
    });
  if (!isZone(input.zone))
    faults.push({
      pointer: '/zone',
      detail: `Time zone ${input.zone} is not known`,
      example: 'Europe/Lisbon',
    });
  if (faults.length) throw invalid(faults);
  const password = await hashPassword(input.password);
  return app.transaction(() => {
    refuseSecondSetUp(app);
    app.db
      .insert(programme)
      .values({
        id: 1,
        name: input.merchant.trim(),
        contact: input.contact.trim(),
        base: currency,
        zone: input.zone,
        debtorName: input.merchant.trim(),
        demo: input.tryOut,
        clockAt: input.tryOut ? app.clock.now() : null,
      })
      .run();
    const id = newId('staff');
    app.db
      .insert(staff)
      .values({
        id,
        name: input.owner.trim(),
        email: emailKey(input.email),
        role: 'owner',
        password,
        createdAt: app.clock.now(),
      })
      .run();
    touch(app, 'records');
    record(app, { kind: 'staff', id }, 'programme-set-up', 'programme', null, {
      name: input.merchant.trim(),
      base: currency,
      zone: input.zone,
    });
    return app.db.select().from(staff).where(eq(staff.id, id)).get()!;
  });
}

export function sessionRoutes(server: Express, app: App): void {
  serve(server, app, contract.readSession, ({ req }) => describe(app, staffOf(app, req)));
  serve(
    server,
    app,
    contract.signIn,
    async ({ body, req, res }) => {
      const person = app.db
        .select()
        .from(staff)
        .where(and(eq(staff.email, emailKey(body.email)), eq(staff.active, true)))
        .get();
      await trySignIn(app, req, res, { ...body, kind: 'staff', person });
      beginSession(app, req, res, 'staff', person!.id);
      return describe(app, person!);
    },
    { first: (req) => countTry(app, req, 'staff') },
  );
  serve(server, app, contract.changeOwnPassword, async ({ actor, body, req, res }) => {
    await changePassword(app, 'staff', actor.id, body.current, body.password);
    beginSession(app, req, res, 'staff', actor.id);
    return null;
  });
  serve(server, app, contract.forgotPassword, ({ body }) => forgotPassword(app, 'staff', body.email), {
    first: () => {
      theProgramme(app);
    },
  });
  serve(
    server,
    app,
    contract.resetPassword,
    async ({ body, req, res }) => {
      const person = await setByLink(app, 'staff', body.token, body.password);
      goodTry(app, req);
      beginSession(app, req, res, 'staff', person);
      return describe(app, app.db.select().from(staff).where(eq(staff.id, person)).get()!);
    },
    { first: (req) => countTry(app, req, 'staff') },
  );
  serve(server, app, contract.signOut, ({ req, res }) => {
    endSession(app, req, res, 'staff');
    return describe(app, null);
  });
  serve(
    server,
    app,
    contract.setUp,
    async ({ body, req, res }) => {
      checkStrength(body.password, [body.owner, body.email, body.merchant]);
      const person = await setUp(app, body);
      await Promise.all(app.kept.onSetUp.map((tell) => tell()));
      beginSession(app, req, res, 'staff', person.id);
      return describe(app, person);
    },
    { first: () => refuseSecondSetUp(app) },
  );
  serve(server, app, contract.readPortalSession, ({ req }) => {
    const seen = programmeOrNull(app) ? seenAs(app, req) : null;
    return describePortal(
      app,
      seen === null
        ? affiliateOf(app, req)
        : (app.db.select().from(affiliates).where(eq(affiliates.id, seen)).get() ?? null),
    );
  });
  serve(
    server,
    app,
    contract.signInPortal,
    async ({ body, req, res }) => {
      const found = app.db
        .select()
        .from(affiliates)
        .where(eq(affiliates.emailKey, emailKey(body.email)))
        .get();
      const person = found?.state === 'blocked' ? null : found;
      await trySignIn(app, req, res, { ...body, kind: 'affiliate', person });
      beginSession(app, req, res, 'affiliate', person!.id);
      return describePortal(app, person!);
    },
    { first: (req) => countTry(app, req, 'affiliate') },
  );
  serve(server, app, contract.signOutPortal, ({ req, res }) => {
    endSession(app, req, res, 'affiliate');
    return describePortal(app, null);
  });
  serve(server, app, contract.changePortalPassword, async ({ actor, body, req, res }) => {
    await changePassword(app, 'affiliate', actor.id, body.current, body.password);
    beginSession(app, req, res, 'affiliate', actor.id);
    return null;
  });
  serve(
    server,
    app,
    contract.forgotPortalPassword,
    ({ body }) => forgotPassword(app, 'affiliate', body.email),
    {
      first: () => {
        theProgramme(app);
      },
    },
  );
  serve(
    server,
    app,
    contract.setPortalPassword,
    async ({ body, req, res }) => {
      const id = await setByLink(app, 'affiliate', body.token, body.password, (person) =>
        acceptTicked(app, person),
      );
      goodTry(app, req);
      beginSession(app, req, res, 'affiliate', id);
      return describePortal(app, app.db.select().from(affiliates).where(eq(affiliates.id, id)).get()!);
    },
    { first: (req) => countTry(app, req, 'affiliate') },
  );
}
