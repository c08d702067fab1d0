import { eq } from 'drizzle-orm';
import type { Request } from 'express';
import type { AnyEndpoint } from '../../../contract/endpoint';
import { type Role } from '../../../core/access/lists';
import { isId, type Id } from '../../../core/text/id';
import type { Actor, App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import { Problem } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';
import { record } from './audit';
import { affiliateOf, staffOf } from './session';

/** Staff may look at the portal as one of the affiliates: reading only, and said so in each call. */
const asHeader = 'x-gravenel-as';

/** One look at the portal is many calls: it is written down once an hour. */
const lookEvery = 3_600_000;
const looks = perApp(() => new Map<string, number>());

/** Writes into the audit who of the staff looked at whose portal. */
function noteLook(app: App, staff: Id<'staff'>, affiliate: string): void {
  const now = app.clock.real();
  const key = `${staff} ${affiliate}`;
  if (now - (looks(app).get(key) ?? 0) < lookEvery) return;
  looks(app).set(key, now);
  record(app, { kind: 'staff', id: staff }, 'portal-looked-at', {
    subject: affiliate,
    before: null,
    after: null,
  });
}

/** The affiliate as whom somebody of the staff looks; null where nobody does. @throws Problem `forbidden` for anything but reading */
export function seenAs(app: App, req: Request): Id<'affiliate'> | null {
  const wanted = req.get(asHeader);
  if (wanted === undefined) return null;
  const person = staffOf(app, req);
  if (!person)
    throw new Problem('not-signed-in', 'Sign in at the desk to look at the portal as one of the affiliates');
  if (req.method !== 'GET')
    throw new Problem(
      'forbidden',
      'You look at the portal as an affiliate sees it: reading only. Nothing was changed.',
    );
  const row =
    isId(wanted, 'affiliate') &&
    app.db.select({ id: affiliates.id }).from(affiliates).where(eq(affiliates.id, wanted)).get();
  if (!row) throw new Problem('not-found', 'This affiliate does not exist');
  noteLook(app, person.id, row.id);
  return row.id;
}

function affiliateWho(app: App, req: Request): Actor {
  const seen = seenAs(app, req);
  if (seen) return { kind: 'affiliate', id: seen, looking: true };
  const person = affiliateOf(app, req);
  if (!person)
    throw new Problem('not-signed-in', 'Sign in to the portal to go on; nothing you typed is lost');
  return { kind: 'affiliate', id: person.id };
}

/** Who makes a call, and by which role. @throws Problem `not-signed-in` or `forbidden` for somebody who may not */
export function whoIs(
  app: App,
  access: AnyEndpoint['access'],
  req: Request,
): { actor: Actor; role: Role | null } {
  if (access === 'open') return { actor: { kind: 'open', id: 'open' }, role: null };
  if (access === 'affiliate') return { actor: affiliateWho(app, req), role: null };
  const person = staffOf(app, req);
  if (!person) throw new Problem('not-signed-in', 'Sign in to go on; nothing you typed is lost');
  if (!access.includes(person.role))
    throw new Problem('forbidden', `The role ${person.role} cannot do this; it needs ${access.join(' or ')}`);
  return { actor: { kind: 'staff', id: person.id }, role: person.role };
}
