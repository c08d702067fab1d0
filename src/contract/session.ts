import { Type } from '@sinclair/typebox';
import { endpoint, roles } from './endpoint';
import { closed, email, Moment, nullable, oneOf, words, wordsRequired } from './shared';

export const password = words('Password', 200, { least: 10, example: 'a sentence that only you know' });
const Credentials = closed({ email: email(), password: words('Password', 200, { least: 1 }) });

export const SessionOut = closed({
  state: oneOf('State', ['set-up', 'signed-out', 'signed-in']),
  person: nullable(closed({ id: Type.String(), name: Type.String(), role: oneOf('Role', roles) })),
  programme: nullable(closed({ name: Type.String(), base: Type.String(), zone: Type.String() })),
  demo: Type.Boolean(), now: Moment,
});
export type SessionOut = (typeof SessionOut)['static'];

export const readSession = endpoint('GET', '/api/v1/session', { summary: 'Who is signed in, and the programme', access: 'open', reply: SessionOut });
export const signIn = endpoint('POST', '/api/v1/session', { summary: 'Sign in as staff', access: 'open', body: Credentials, reply: SessionOut });
export const signOut = endpoint('DELETE', '/api/v1/session', { summary: 'Sign out', access: 'open', reply: SessionOut });
export const setUp = endpoint('POST', '/api/v1/set-up', {
  summary: 'First-run set-up; refused once a programme exists', access: 'open', reply: SessionOut,
  body: closed({
    merchant: wordsRequired('Merchant name', 120, 'Quernstone Clayworks'), contact: email('Contact address'),
    currency: words('Base currency', 3, { least: 3, example: 'EUR' }), zone: wordsRequired('Time zone', 60, 'Europe/Lisbon'),
    owner: wordsRequired('Your name', 120, 'Inês Falcão'), email: email('Your e-mail address'), password,
    tryOut: Type.Boolean({ title: 'Try it out with the stand-ins' }),
  }),
});

export const PortalSessionOut = closed({
  state: oneOf('State', ['set-up', 'signed-out', 'signed-in']),
  person: nullable(closed({ id: Type.String(), name: Type.String(), state: Type.String() })),
  programme: nullable(closed({ name: Type.String(), base: Type.String(), zone: Type.String(), contact: Type.String(), logo: nullable(Type.String()) })),
  now: Moment,
});
export type PortalSessionOut = (typeof PortalSessionOut)['static'];
export const readPortalSession = endpoint('GET', '/api/v1/portal/session', { summary: 'Which affiliate is signed in', access: 'open', reply: PortalSessionOut });
export const signInPortal = endpoint('POST', '/api/v1/portal/session', { summary: 'Sign in as an affiliate', access: 'open', body: Credentials, reply: PortalSessionOut });
export const signOutPortal = endpoint('DELETE', '/api/v1/portal/session', { summary: 'Sign out of the portal', access: 'open', reply: PortalSessionOut });
export const setPortalPassword = endpoint('POST', '/api/v1/portal/password', {
  summary: 'Set a password with the link from the approval message', access: 'open', reply: PortalSessionOut,
  body: closed({ token: words('Link', 100, { least: 20 }), password }),
});
