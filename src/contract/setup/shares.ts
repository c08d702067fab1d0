import { Type } from '@sinclair/typebox';
import { commissionStates } from '../../core/ledger/commission';
import { affiliateStates } from '../../core/recruiting/states';
import { shareBases, shareKinds } from '../../core/terms/lists';
import { endpoint, managing, readers } from '../endpoint';
import {
  byId,
  closed,
  country,
  decimal,
  email,
  idOf,
  Moment,
  MoneyOut,
  nullable,
  oneOf,
  words,
  wordsRequired,
} from '../shared';

const Of = oneOf('Percent of', shareBases);
const Brought = closed({
  id: idOf('affiliate'),
  name: Type.String(),
  percent: Type.String(),
  of: Of,
  from: Moment,
  until: nullable(Moment),
  earned: MoneyOut,
});

/** Who brought an affiliate in, and whom it brought in itself. */
export const ReferralOut = closed({
  by: nullable(
    closed({
      id: idOf('affiliate'),
      name: Type.String(),
      state: oneOf('State', affiliateStates),
      percent: Type.String(),
      of: Of,
      from: Moment,
      until: nullable(Moment),
    }),
  ),
  next: nullable(
    closed({
      name: nullable(Type.String({ description: 'null: the share ends' })),
      percent: Type.String(),
      of: Of,
      from: Moment,
      until: nullable(Moment),
    }),
  ),
  waitsFor: nullable(
    Type.String({ description: 'who brought an applicant in: its share begins when the applicant joins' }),
  ),
  brought: Type.Array(Brought),
  usual: closed({ percent: Type.String(), of: Of, months: Type.String() }),
});
export const readReferral = endpoint('GET', '/api/v1/affiliates/:id/referral', {
  summary: 'Who brought an affiliate in, whom it brought in, and what that earned',
  access: readers,
  params: byId('affiliate'),
  reply: ReferralOut,
});
export const referralFields = {
  percent: decimal('Referral share', '10'),
  of: Of,
  months: words('Months', 3, { example: '12', pattern: '^\\d*$' }),
};
export const setReferral = endpoint('PUT', '/api/v1/affiliates/:id/referral', {
  summary:
    'Set who brought an affiliate in and what that one earns; nobody = ends it. What pays less takes effect after the promised notice',
  access: managing,
  params: byId('affiliate'),
  once: true,
  reply: ReferralOut,
  body: closed({ by: nullable(idOf('affiliate')), ...referralFields }),
});

const Owner = closed({
  payee: idOf('affiliate'),
  name: Type.String(),
  handle: Type.String(),
  percent: Type.String(),
  from: Moment,
  until: nullable(Moment),
  promotes: Type.Boolean(),
  detailsComplete: Type.Boolean(),
});
export const CoOwnersOut = closed({
  rows: Type.Array(Owner),
  coming: Type.Array(closed({ name: Type.String(), percent: Type.String(), from: Moment })),
  past: Type.Array(closed({ name: Type.String(), percent: Type.String(), from: Moment, until: Moment })),
});
export const readCoOwners = endpoint('GET', '/api/v1/products/:id/co-owners', {
  summary: 'Partners in a product and their shares',
  access: readers,
  params: byId('product'),
  reply: CoOwnersOut,
});
export const setCoOwners = endpoint('PUT', '/api/v1/products/:id/co-owners', {
  summary:
    'Set the partners in a product and their shares. A lower share takes effect after the promised notice',
  access: managing,
  params: byId('product'),
  once: true,
  reply: CoOwnersOut,
  body: closed({
    owners: Type.Array(closed({ payee: idOf('affiliate'), percent: decimal('Co-owner share', '25') }), {
      maxItems: 20,
      title: 'Co-owners',
    }),
    expects: Type.Array(closed({ payee: idOf('affiliate'), percent: Type.String({ maxLength: 20 }) }), {
      maxItems: 20,
      title: 'As it was shown',
    }),
  }),
});
export const addPartner = endpoint('POST', '/api/v1/partners', {
  summary: 'Add somebody who has a share of a product and promotes nothing; a mail invites to the portal',
  access: managing,
  once: true,
  body: closed({ name: wordsRequired('Name', 120, 'Ada Birkeland'), email: email(), country }),
  reply: closed({ id: idOf('affiliate'), name: Type.String(), handle: Type.String() }),
});

/** A share of a sale beside its commission. */
export const ShareOut = closed({
  id: idOf('commission'),
  kind: oneOf('Kind', shareKinds),
  payee: idOf('affiliate'),
  name: Type.String(),
  granted: MoneyOut,
  left: MoneyOut,
  state: oneOf('State', commissionStates),
  clearsAt: Moment,
  declined: nullable(Type.String()),
  lines: Type.Array(
    closed({ product: Type.String(), text: Type.String(), basis: MoneyOut, amount: MoneyOut }),
  ),
});
