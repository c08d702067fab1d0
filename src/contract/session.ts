import { Type } from '@sinclair/typebox';
import { roles, sessionStates } from '../core/access/lists';
import { endpoint, readers } from './endpoint';
import { closed, email, idOf, Moment, nullable, oneOf, words, wordsRequired } from './shared';

export const password = words('Password', 200, {
  least: 12,
  example: 'four words that have nothing to do with each other',
});
/** A sign-in is a few words: more of it is not read. */
const signInBytes = 4096;
const Credentials = closed({ email: email(), password: words('Password', 200, { least: 1 }) });

export const SessionOut = closed({
  state: oneOf('State', sessionStates),
  person: nullable(closed({ id: idOf('staff'), name: Type.String(), role: oneOf('Role', roles) })),
  programme: nullable(closed({ name: Type.String(), base: Type.String(), zone: Type.String() })),
  demo: Type.Boolean(),
  now: Moment,
});
export type SessionOut = (typeof SessionOut)['static'];

export const readSession = endpoint('GET', '/api/v1/session', {
  summary: 'Who is signed in, and the programme',
  access: 'open',
  reply: SessionOut,
});
export const signIn = endpoint('POST', '/api/v1/session', {
  summary: 'Sign in as staff',
  access: 'open',
  most: signInBytes,
  body: Credentials,
  reply: SessionOut,
});
/** Tries of one address in ten minutes with links and for forgotten passwords. */
const linkTries = 60;
const Changed = closed({ current: words('Present password', 200, { least: 1 }), password });
const Forgotten = closed({ email: email() });
const Said = closed({ said: Type.String() });
const ByLink = closed({ token: words('Link', 100, { least: 20 }), password });
export const changeOwnPassword = endpoint('PUT', '/api/v1/session/password', {
  summary: 'Change one’s own password; every other session ends',
  access: readers,
  body: Changed,
});
export const forgotPassword = endpoint('POST', '/api/v1/session/forgotten', {
  summary: 'Have a link to set a new password sent, as staff; the answer is the same whoever asks',
  access: 'open',
  most: signInBytes,
  perAddress: linkTries,
  body: Forgotten,
  reply: Said,
});
export const resetPassword = endpoint('POST', '/api/v1/session/reset', {
  summary: 'Set a password with the link of a message, as staff',
  access: 'open',
  most: signInBytes,
  perAddress: linkTries,
  body: ByLink,
  reply: SessionOut,
});
export const signOut = endpoint('DELETE', '/api/v1/session', {
  summary: 'Sign out',
  access: 'open',
  reply: SessionOut,
});
export const setUp = endpoint('POST', '/api/v1/set-up', {
  summary: 'First-run set-up; refused once a programme exists',
  access: 'open',
  reply: SessionOut,
  body: closed({
    merchant: wordsRequired('Merchant name', 120, 'Quernstone Clayworks'),
    contact: email('Contact address'),
    currency: words('Base currency', 3, { least: 3, example: 'EUR' }),
    zone: wordsRequired('Time zone', 60, 'Europe/Lisbon'),
    owner: wordsRequired('Your name', 120, 'Inês Falcão'),
    email: email('Your e-mail address'),
    password,
    tryOut: Type.Boolean({ title: 'Try it out with the stand-ins' }),
  }),
});

export const PortalSessionOut = closed({
  state: oneOf('State', sessionStates),
  person: nullable(closed({ id: idOf('affiliate'), name: Type.String(), state: Type.String() })),
  programme: nullable(
    closed({
      name: Type.String(),
      base: Type.String(),
      zone: Type.String(),
      contact: Type.String(),
      logo: nullable(Type.String()),
    }),
  ),
  now: Moment,
});
export type PortalSessionOut = (typeof PortalSessionOut)['static'];
export const readPortalSession = endpoint('GET', '/api/v1/portal/session', {
  summary: 'Which affiliate is signed in',
  access: 'open',
  reply: PortalSessionOut,
});
export const signInPortal = endpoint('POST', '/api/v1/portal/session', {
  summary: 'Sign in as an affiliate',
  access: 'open',
  most: signInBytes,
  body: Credentials,
  reply: PortalSessionOut,
});
export const changePortalPassword = endpoint('PUT', '/api/v1/portal/session/password', {
  summary: 'Change one’s own password for the portal; every other session ends',
  access: 'affiliate',
  body: Changed,
});
export const forgotPortalPassword = endpoint('POST', '/api/v1/portal/session/forgotten', {
  summary: 'Have a link to set a new password for the portal sent; the answer is the same whoever asks',
  access: 'open',
  most: signInBytes,
  perAddress: linkTries,
  body: Forgotten,
  reply: Said,
});
export const signOutPortal = endpoint('DELETE', '/api/v1/portal/session', {
  summary: 'Sign out of the portal',
  access: 'open',
  reply: PortalSessionOut,
});
export const setPortalPassword = endpoint('POST', '/api/v1/portal/password', {
  summary: 'Set a password with the link of a message',
  access: 'open',
  reply: PortalSessionOut,
  most: signInBytes,
  perAddress: linkTries,
  body: ByLink,
});
