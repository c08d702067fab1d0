import { timingSafeEqual } from 'node:crypto';
import { eq } from 'drizzle-orm';
import type { ReplyOf } from '../../../contract/endpoint';
import type { readPolicyByLink as ByLink } from '../../../contract/setup/policy';
import { isId, type Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';
import { policies } from '../../ground/tables/policy';
import { theProgramme } from '../../registers/programme/record';
import { acceptPolicy, readOwnPolicy } from './acceptance';
import { latest } from './versions';

const markOf = (app: App, affiliate: Id<'affiliate'>, policy: Id<'policy'>) =>
  app.seal.digest(`accept ${affiliate} ${policy}`).slice(0, 40);

/** The address of a message by which one affiliate reads a version and accepts it: who comes by it has the affiliate’s mail. */
export const acceptanceLink = (app: App, affiliate: Id<'affiliate'>, policy: Id<'policy'>): string =>
  `${app.address}/accept/${affiliate}.${policy}.${markOf(app, affiliate, policy)}`;

function find(app: App, token: string) {
  const [affiliate = '', policy = '', mark = ''] = token.split('.');
  const nothing = () =>
    new Problem('not-found', 'This link leads to no terms; it may have been copied incompletely');
  if (!isId(affiliate, 'affiliate') || !isId(policy, 'policy') || !/^[0-9a-f]{40}$/.test(mark))
    throw nothing();
  if (!timingSafeEqual(Buffer.from(markOf(app, affiliate, policy)), Buffer.from(mark))) throw nothing();
  const who = app.db.select().from(affiliates).where(eq(affiliates.id, affiliate)).get();
  const version = app.db.select().from(policies).where(eq(policies.id, policy)).get();
  if (!who || !version) throw nothing();
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
