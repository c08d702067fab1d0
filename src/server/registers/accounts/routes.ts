import { and, eq } from 'drizzle-orm';
import type { SessionOut } from '../../../contract/session';
import * as contract from '../../../contract/session';
import { emailKey } from '../../../core/recruiting/evidence';
import type { Id } from '../../../core/text/id';
import { asStaff, type App } from '../../ground/context';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { staff } from '../../ground/tables/access';
import { checkStrength } from '../access/passwords';
import { beginSession, endSession, staffOf } from '../access/session';
import { programmeOrNull, theProgramme } from '../programme/record';
import { changePassword, forgotPassword, setByLink } from './accounts';
import { refuseSecondSetUp, setUp } from './set-up';
import { countTry, goodTry, trySignIn } from './signin';

function describe(
  app: App,
  person: { id: Id<'staff'>; name: string; role: 'owner' | 'manager' | 'finance' | 'viewer' } | null,
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

export function sessionRoutes(site: Site): void {
  deskRoutes(site);
  setUpRoute(site);
}

function deskRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.readSession, ({ req }) => describe(app, staffOf(app, req)));
  serve(
    site,
    contract.signIn,
    async ({ body, req, res }) => {
      const person = app.db
        .select()
        .from(staff)
        .where(and(eq(staff.email, emailKey(body.email)), eq(staff.active, true)))
        .get();
      await trySignIn(app, req, res, { ...body, kind: 'staff', person });
      beginSession(app, req, res, { kind: 'staff', person: person!.id });
      return describe(app, person!);
    },
    { first: (req) => countTry(app, req, 'staff') },
  );
  serve(site, contract.changeOwnPassword, async ({ actor, body, req, res }) => {
    await changePassword(app, {
      id: asStaff(actor),
      current: body.current,
      password: body.password,
    });
    beginSession(app, req, res, { kind: 'staff', person: asStaff(actor) });
    return null;
  });
  serve(site, contract.forgotPassword, ({ body }) => forgotPassword(app, 'staff', body.email), {
    first: () => {
      theProgramme(app);
    },
  });
  serve(
    site,
    contract.resetPassword,
    async ({ body, req, res }) => {
      const person = await setByLink(app, 'staff', { token: body.token, password: body.password });
      goodTry(app, req);
      beginSession(app, req, res, { kind: 'staff', person });
      return describe(app, app.db.select().from(staff).where(eq(staff.id, person)).get()!);
    },
    { first: (req) => countTry(app, req, 'staff') },
  );
  serve(site, contract.signOut, ({ req, res }) => {
    endSession(app, req, res, 'staff');
    return describe(app, null);
  });
}

function setUpRoute(site: Site): void {
  const { app } = site;
  serve(
    site,
    contract.setUp,
    async ({ body, req, res }) => {
      checkStrength(body.password, [body.owner, body.email, body.merchant]);
      const person = await setUp(app, body);
      await Promise.all(app.kept.onSetUp.map((tell) => tell()));
      beginSession(app, req, res, { kind: 'staff', person: person.id });
      return describe(app, person);
    },
    { first: () => refuseSecondSetUp(app) },
  );
}
