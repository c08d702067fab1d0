import { randomBytes, timingSafeEqual } from 'node:crypto';
import { and, eq, isNull, lt } from 'drizzle-orm';
import { isId, type Id } from '../../../core/text/id';
import { actorOf, type App, type PersonId } from '../../ground/context';
import { refuse } from '../../ground/http/problem';
import { hash } from '../../ground/seal';
import { invitations, staff } from '../../ground/tables/access';
import { changeAffiliate } from '../people/write';
import { record } from './audit';
import { endSessionsOf, type SessionKind } from './session';

const hour = 3_600_000;
/** Links of a welcome are good for a month; those of a forgotten password for an hour. */
const lasts = { welcome: 30 * 24 * hour, forgotten: hour };

/** Makes a link to set a password, and gives its address. Only a digest is kept. */
export function newPasswordLink(
  app: App,
  kind: SessionKind,
  person: PersonId,
  use: keyof typeof lasts = 'welcome',
): string {
  const token = randomBytes(32).toString('base64url');
  const now = app.clock.real();
  app.db
    .insert(invitations)
    .values({ tokenHash: hash(token), kind, person, createdAt: now, until: now + lasts[use] })
    .run();
  return `${app.address}${kind === 'staff' ? '' : '/portal'}/password?token=${token}`;
}

/** Whom a link is for. @throws Problem `invalid` where it was used, has died or is too old */
export function personOfLink<K extends SessionKind>(app: App, kind: K, token: string): Id<K> {
  const row = app.db
    .select()
    .from(invitations)
    .where(
      and(eq(invitations.tokenHash, hash(token)), eq(invitations.kind, kind), isNull(invitations.usedAt)),
    )
    .get();
  if (!row || !isId(row.person, kind) || (row.until ?? row.createdAt + lasts.welcome) < app.clock.real())
    throw refuse(
      'token',
      'This link was used already, is too old, or a newer password was set since; ask for a new one under “Forgotten your password?”',
    );
  return row.person;
}

/**
 * Sets a password: every session of the person ends, and so does every link to set another. Call inside a transaction.
 * @param stored the password, hashed
 */
export function putPassword(
  app: App,
  { person, stored, action }: { person: PersonId; stored: string; action: string },
): void {
  if (isId(person, 'staff')) app.db.update(staff).set({ password: stored }).where(eq(staff.id, person)).run();
  else changeAffiliate(app, person, { password: stored });
  app.db.delete(invitations).where(eq(invitations.person, person)).run();
  endSessionsOf(app, person);
  record(app, actorOf(person), action, { subject: person, before: null, after: null });
}

/** What only we can have said of something: the end of a link that leaves with a message. */
const markOf = (app: App, said: string): string => app.seal.digest(said).slice(0, 40);

function isMarked(app: App, said: string, mark: string): boolean {
  if (!/^[0-9a-f]{40}$/.test(mark)) return false;
  return timingSafeEqual(Buffer.from(markOf(app, said)), Buffer.from(mark));
}

/** The address at which an applicant answers a question. */
export const answerLink = (app: App, question: Id<'question'>): string =>
  `${app.address}/answer/${question}.${markOf(app, `answer ${question}`)}`;

/** Which question a link to answer is for; null where it is none of ours. */
export function questionOf(app: App, token: string): Id<'question'> | null {
  const [question = '', mark = '', ...more] = token.split('.');
  const isOurs = more.length === 0 && isId(question, 'question') && isMarked(app, `answer ${question}`, mark);
  return isOurs ? question : null;
}

const accepting = (affiliate: string, policy: string) => `accept ${affiliate} ${policy}`;

/** The address by which one affiliate reads a version of the policy and accepts it. It leaves with a message alone: who comes by it has the affiliate’s mail. */
export const acceptanceLink = (app: App, affiliate: Id<'affiliate'>, policy: Id<'policy'>): string =>
  `${app.address}/accept/${affiliate}.${policy}.${markOf(app, accepting(affiliate, policy))}`;

/** Whom a link to accept is for, and which version; null where it is none of ours. */
export function acceptanceOf(
  app: App,
  token: string,
): { affiliate: Id<'affiliate'>; policy: Id<'policy'> } | null {
  const [affiliate = '', policy = '', mark = '', ...more] = token.split('.');
  if (more.length || !isId(affiliate, 'affiliate') || !isId(policy, 'policy')) return null;
  return isMarked(app, accepting(affiliate, policy), mark) ? { affiliate, policy } : null;
}

/** Forgets links that were made before a moment of the machine's clock. */
export function forgetLinks(app: App, before: number): void {
  app.db.delete(invitations).where(lt(invitations.createdAt, before)).run();
}
