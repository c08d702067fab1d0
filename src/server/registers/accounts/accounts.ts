import { and, eq } from 'drizzle-orm';
import { emailKey } from '../../../core/recruiting/evidence';
import { isId, type Id } from '../../../core/text/id';
import { type App, type PersonId } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { staff } from '../../ground/tables/access';
import { affiliates } from '../../ground/tables/people';
import { personOfLink, putPassword } from '../access/links';
import { checkStrength, hashPassword } from '../access/passwords';
import type { SessionKind } from '../access/session';
import { queue, writtenLately } from '../outbox/queue';
import { theProgramme } from '../programme/record';
import { askAgain } from './signin';

interface Person {
  id: PersonId;
  name: string;
  email: string;
  password: string | null;
}

function byId(app: App, id: PersonId): Person | null {
  if (isId(id, 'staff'))
    return (
      app.db
        .select()
        .from(staff)
        .where(and(eq(staff.id, id), eq(staff.active, true)))
        .get() ?? null
    );
  const row = app.db.select().from(affiliates).where(eq(affiliates.id, id)).get();
  return row && row.state !== 'blocked' ? row : null;
}

function byMail(app: App, kind: SessionKind, email: string): Person | null {
  const key = emailKey(email);
  if (kind === 'staff')
    return (
      app.db
        .select()
        .from(staff)
        .where(and(eq(staff.email, key), eq(staff.active, true)))
        .get() ?? null
    );
  const row = app.db.select().from(affiliates).where(eq(affiliates.emailKey, key)).get();
  return row && row.state !== 'blocked' ? row : null;
}

const hints = (app: App, person: Person) => [person.name, person.email, theProgramme(app).name];

/** Tells somebody that a password was set, at the address that is known: whoever did not do it hears of it. */
function tell(app: App, { id, name, email }: Person): void {
  const own = isId(id, 'affiliate') ? id : null;
  const { name: programme, contact } = theProgramme(app);
  queue(app, {
    to: email,
    affiliate: own,
    kind: 'password-changed',
    subject: `Your password at ${programme} was changed`,
    body: `Hello ${name},\n\nyour password was changed just now, and everybody who was signed in with the old one is signed out. If it was not you, set another one at once under “Forgotten your password?” at ${app.address}${own ? '/portal' : ''} and tell us: ${contact}\n\n${programme}`,
  });
}

/** Changes one's own password. @throws Problem `invalid` where the present one is not this, or the new one is easy to guess */
export async function changePassword(
  app: App,
  { id, current, password }: { id: PersonId; current: string; password: string },
): Promise<void> {
  const person = byId(app, id);
  if (!person) throw new Problem('not-found', 'This account is closed');
  checkStrength(password, hints(app, person));
  await askAgain(app, { person, password: current, field: 'current' });
  const stored = await hashPassword(password);
  app.transaction(() => {
    putPassword(app, { person: id, stored, action: 'password-changed' });
    tell(app, person);
  });
}

/** Messages a day with a link to set a password that one address gets. */
const mostLinks = 3;

/** Sends a link to set a password, where the address is somebody's. Nothing of the answer depends on it: the work is done after it. */
export function forgotPassword(app: App, kind: SessionKind, email: string): { said: string } {
  setImmediate(() => app.faults.guard('forgotten password', () => sendLink(app, kind, email)));
  return {
    said: 'If this address is known here, a link to set a new password is on its way to it. It is good for an hour.',
  };
}

function sendLink(app: App, kind: SessionKind, email: string): void {
  const person = app.sqlite.open ? byMail(app, kind, email) : null;
  if (!person || writtenLately(app, person.email, ['password-forgotten']) >= mostLinks) return;
  const { name: programme, contact } = theProgramme(app);
  queue(app, {
    to: person.email,
    affiliate: isId(person.id, 'affiliate') ? person.id : null,
    kind: 'password-forgotten',
    subject: `A new password for ${programme}`,
    link: { kind, person: person.id, use: 'forgotten' },
    body: [
      `Hello ${person.name},\n\nsomebody asked for a new password for this address. Set it here, within an hour:\n`,
      `\n\nIf it was not you, there is nothing to do: the old password goes on being good. Questions: ${contact}\n\n${programme}`,
    ],
  });
}

/** Sets a password by the link of a message. @returns the person's id @throws Problem `invalid`, `forbidden` where the account is closed */
export async function setByLink<K extends SessionKind>(
  app: App,
  kind: K,
  {
    token,
    password,
    done = () => undefined,
  }: { token: string; password: string; done?: (person: Id<K>) => void | undefined },
): Promise<Id<K>> {
  const id = personOfLink(app, kind, token);
  const person = byId(app, id);
  if (!person) throw new Problem('forbidden', 'This account is closed');
  checkStrength(password, hints(app, person));
  const stored = await hashPassword(password);
  app.transaction(() => {
    // hashing took a moment: the link may have been used meanwhile
    personOfLink(app, kind, token);
    putPassword(app, { person: id, stored, action: 'password-set' });
    if (person.password !== null) tell(app, person);
    done(id);
  });
  return id;
}
