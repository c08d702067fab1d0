import { Type } from '@sinclair/typebox';
import { endpoint } from '../endpoint';
import { closed, Moment, nullable, paragraphs, Version, words, wordsRequired } from '../shared';
import { OwnPlaces } from './home';

const profile = {
  name: wordsRequired('Name', 120, 'Loam Letters'),
  address: words('Postal address', 200, { example: 'Rua do Forno 4, Barrancos' }),
  audience: paragraphs('How you promote', 2000, { example: 'A letter every Friday to 4,000 potters.' }),
};
const Session = closed({
  begun: Moment,
  seen: Moment,
  isThis: Type.Boolean({ description: 'the one that asks' }),
});
export const OwnProfile = closed({
  ...profile,
  handle: Type.String(),
  email: Type.String(),
  country: Type.String(),
  sites: Type.Array(Type.String()),
  joinedAt: nullable(Moment),
  places: OwnPlaces,
  promotes: Type.Boolean(),
  sessions: Type.Array(Session),
  version: Version,
});
export type OwnProfile = (typeof OwnProfile)['static'];
export const readOwnProfile = endpoint('GET', '/api/v1/portal/profile', {
  summary: 'Who one is to the merchant, on which card, and where one is signed in',
  access: 'affiliate',
  reply: OwnProfile,
});
export const setOwnProfile = endpoint('PUT', '/api/v1/portal/profile', {
  summary: 'Change one’s name, postal address and how one promotes',
  access: 'affiliate',
  body: closed({ ...profile, version: Version }),
  reply: OwnProfile,
});
export const endOtherSessions = endpoint('POST', '/api/v1/portal/sessions/end', {
  summary: 'Sign out everywhere but here',
  access: 'affiliate',
  reply: closed({ ended: Type.Integer() }),
});
