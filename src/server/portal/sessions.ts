import { eq } from 'drizzle-orm';
import type { PortalSessionOut } from '../../contract/session';
import * as contract from '../../contract/session';
import { emailKey } from '../../core/recruiting/evidence';
import { asAffiliate, type App } from '../ground/context';
import { serve } from '../ground/http/serve';
import type { Site } from '../ground/http/site';
import { affiliates } from '../ground/tables/people';
import { acceptTicked } from '../recruit/applications/ticked';
import { affiliateOf, beginSession, endSession } from '../registers/access/session';
import { seenAs } from '../registers/access/who';
import { changePassword, forgotPassword, setByLink } from '../registers/accounts/accounts';
import { countTry, goodTry, trySignIn } from '../registers/accounts/signin';
import { programmeOrNull, theProgramme } from '../registers/programme/record';
import { portalProgramme } from './programme';

function describePortal(app: App, person: typeof affiliates.$inferSelect | null): PortalSessionOut {
  const p = programmeOrNull(app);
  return {
    state: !p ? 'set-up' : person ? 'signed-in' : 'signed-out',
    person: person ? { id: person.id, name: person.name, state: person.state } : null,
    programme: p ? portalProgramme(app) : null,
    now: app.clock.now(),
  };
}

export function portalSessionRoutes(site: Site): void {
  portalDoorRoutes(site);
  portalPasswordRoutes(site);
}

function portalDoorRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.readPortalSession, ({ req }) => {
    const seen = programmeOrNull(app) ? seenAs(app, req) : null;
    return describePortal(
      app,
      seen === null
        ? affiliateOf(app, req)
        : (app.db.select().from(affiliates).where(eq(affiliates.id, seen)).get() ?? null),
    );
  });
  serve(
    site,
    contract.signInPortal,
    async ({ body, req, res }) => {
      const found = app.db
        .select()
        .from(affiliates)
        .where(eq(affiliates.emailKey, emailKey(body.email)))
        .get();
      const person = found?.state === 'blocked' ? null : found;
      await trySignIn(app, req, res, { ...body, kind: 'affiliate', person });
      beginSession(app, req, res, { kind: 'affiliate', person: person!.id });
      return describePortal(app, person!);
    },
    { first: (req) => countTry(app, req, 'affiliate') },
  );
  serve(site, contract.signOutPortal, ({ req, res }) => {
    endSession(app, req, res, 'affiliate');
    return describePortal(app, null);
  });
}

function portalPasswordRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.changePortalPassword, async ({ actor, body, req, res }) => {
    await changePassword(app, {
      id: asAffiliate(actor),
      current: body.current,
      password: body.password,
    });
    beginSession(app, req, res, { kind: 'affiliate', person: asAffiliate(actor) });
    return null;
  });
  serve(site, contract.forgotPortalPassword, ({ body }) => forgotPassword(app, 'affiliate', body.email), {
    first: () => {
      theProgramme(app);
    },
  });
  serve(
    site,
    contract.setPortalPassword,
    async ({ body, req, res }) => {
      const id = await setByLink(app, 'affiliate', {
        token: body.token,
        password: body.password,
        done: (person) => acceptTicked(app, person),
      });
      goodTry(app, req);
      beginSession(app, req, res, { kind: 'affiliate', person: id });
      return describePortal(app, app.db.select().from(affiliates).where(eq(affiliates.id, id)).get()!);
    },
    { first: (req) => countTry(app, req, 'affiliate') },
  );
}
