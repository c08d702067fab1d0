import { randomBytes, timingSafeEqual } from 'node:crypto';
import type { Request, Response } from 'express';
import { networkOf } from '../../../core/attribution/opened';
import { emailKey } from '../../../core/recruiting/evidence';
import type { App, PersonId } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import { Problem } from '../../ground/http/problem';
import { Throttle } from '../../ground/http/throttle';
import { fits } from '../access/passwords';
import { readCookie, type SessionKind } from '../access/session';

const most = { account: 6, device: 6, address: 40 };
const throttles = perApp(() => ({
  account: new Throttle(most.account),
  device: new Throttle(most.device),
  address: new Throttle(most.address),
}));

const deviceCookie: Record<SessionKind, string> = {
  staff: 'gravenel_desk_device',
  affiliate: 'gravenel_portal_device',
};
const deviceAge = 400 * 86_400_000;

const markOf = (app: App, kind: SessionKind, person: string, nonce: string) =>
  app.seal.digest(`device ${kind} ${person} ${nonce}`);

interface Device {
  person: string;
  nonce: string;
}

/** The device as one on which somebody signed in before, by a cookie that only this server can have made. */
function deviceOf(app: App, req: Request, kind: SessionKind): Device | null {
  const [person = '', nonce = '', mark = ''] = (
    readCookie(req.headers.cookie, deviceCookie[kind]) ?? ''
  ).split('.');
  const own = Buffer.from(markOf(app, kind, person, nonce));
  const given = Buffer.from(mark);
  return person !== '' && own.length === given.length && timingSafeEqual(own, given)
    ? { person, nonce }
    : null;
}

function knowDevice(app: App, res: Response, kind: SessionKind, person: string): void {
  const nonce = randomBytes(12).toString('base64url');
  res.cookie(deviceCookie[kind], `${person}.${nonce}.${markOf(app, kind, person, nonce)}`, {
    httpOnly: true,
    sameSite: 'lax',
    path: '/',
    secure: app.address.startsWith('https:'),
    maxAge: deviceAge,
  });
}

const addressOf = (req: Request) => networkOf(req.ip ?? '');

function orWait(wait: number): void {
  if (wait)
    throw new Problem('too-many', `Too many failed sign-ins; try again in ${Math.ceil(wait / 60)} minutes`, {
      retryAfter: wait,
    });
}

/** Counts a try of an address before anything of it is read. A device that has signed in before has its own count, so that others' tries do not lock it out. @throws Problem `too-many` */
export function countTry(app: App, req: Request, kind: SessionKind): void {
  if (!deviceOf(app, req, kind)) orWait(throttles(app).address.take(addressOf(req), app.clock.real()));
}

/** The try that was counted last was a good one. */
export function goodTry(app: App, req: Request): void {
  throttles(app).address.giveBack(addressOf(req));
}

interface Try {
  kind: SessionKind;
  email: string;
  password: string;
  person: { id: PersonId; password: string | null } | null | undefined;
}

/** Tries a password, after `countTry`. @throws Problem `too-many` or `not-signed-in` */
export async function trySignIn(
  app: App,
  req: Request,
  res: Response,
  { kind, email, password, person }: Try,
): Promise<void> {
  const { account, device, address } = throttles(app);
  const now = app.clock.real();
  const known = deviceOf(app, req, kind);
  const own = known !== null && known.person === person?.id;
  // a device that somebody else knows is a stranger's
  if (known && !own) orWait(address.take(addressOf(req), now));
  const name = own ? known.nonce : `${kind} ${emailKey(email)}`;
  const throttle = own ? device : account;
  orWait(throttle.take(name, now));
  if (!(await fits(person?.password, password))) {
    throw new Problem('not-signed-in', 'The e-mail address and the password do not belong together', {
      errors: [{ pointer: '/password', detail: 'Address and password do not belong together' }],
    });
  }
  throttle.clear(name);
  if (!own) address.giveBack(addressOf(req));
  knowDevice(app, res, kind, person!.id);
}

/** Asks somebody who is signed in for the password again. @throws Problem `too-many`, `invalid` */
export async function askAgain(
  app: App,
  {
    person,
    password,
    field,
  }: { person: { id: PersonId; password: string | null }; password: string; field: string },
): Promise<void> {
  const name = `again ${person.id}`;
  const { device } = throttles(app);
  orWait(device.take(name, app.clock.real()));
  if (!(await fits(person.password, password)))
    throw new Problem('invalid', 'Your password is not this one', {
      errors: [{ pointer: `/${field}`, detail: 'Your password is not this one' }],
    });
  device.clear(name);
}
