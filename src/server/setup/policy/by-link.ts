import { eq } from 'drizzle-orm';
import type { ReplyOf } from '../../../contract/endpoint';
import type { readPolicyByLink as ByLink } from '../../../contract/setup/policy';
import type { App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';
import { policies } from '../../ground/tables/policy';
import { acceptanceOf } from '../../registers/access/links';
import { theProgramme } from '../../registers/programme/record';
import { acceptPolicy, readOwnPolicy } from './acceptance';
import { latest } from './versions';

function find(app: App, token: string) {
  const named = acceptanceOf(app, token);
  const who = named && app.db.select().from(affiliates).where(eq(affiliates.id, named.affiliate)).get();
  const version = named && app.db.select().from(policies).where(eq(policies.id, named.policy)).get();
  if (!who || !version)
    throw new Problem('not-found', 'This link leads to no terms; it may have been copied incompletely');
  return { who, version };
}

/** Why nothing can be accepted by a link; null where it can. */
function whyOver(app: App, { who, version }: ReturnType<typeof find>): string | null {
  if (who.state === 'ended') return 'You are not with us any more, so there is nothing to accept.';
  if (who.state === 'blocked') return 'This record is closed, so there is nothing to accept.';
  if (latest(app)?.id !== version.id)
    return 'A newer version was published meanwhile: the message about it has a link of its own, and the portal shows it.';
  return null;
}

/** The policy as the one reads it whom a link was sent to. @param token of the link @throws Problem `not-found` */
export function readByLink(app: App, token: string): ReplyOf<typeof ByLink> {
  const found = find(app, token);
  const { name, contact } = theProgramme(app);
  const over = whyOver(app, found);
  return {
    programme: name,
    contact,
    name: found.who.name,
    current: over === null ? readOwnPolicy(app, found.who.id).current : null,
    over,
  };
}

/** Accepts the version that a link was sent for; a second time changes nothing. @throws Problem `conflict` where it is over */
export function acceptByLink(app: App, token: string): ReplyOf<typeof ByLink> {
  const found = find(app, token);
  const over = whyOver(app, found);
  if (over !== null) throw new Problem('conflict', over);
  acceptPolicy(app, { kind: 'affiliate', id: found.who.id }, found.version.id);
  return readByLink(app, token);
}
