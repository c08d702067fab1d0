import { Type } from '@sinclair/typebox';
import { productKinds } from '../../core/pricing/product';
import { endpoint } from '../endpoint';
import { closed, Moment, nullable, oneOf, words } from '../shared';

// control characters stop here: a reference ends up in files, mails and lists
// null says the same as leaving it out: a shop without a visit should not have to build another body
// The tracking contract, version 1: it may gain optional fields, it never changes otherwise.
/** What a shop's page may know about a product. */
export const Offer = closed({
  code: Type.String(),
  name: Type.String(),
  description: Type.String(),
  kind: oneOf('Kind', productKinds),
  onSale: Type.Boolean(),
  price: nullable(closed({ value: Type.String(), currency: Type.String() })),
  prices: Type.Record(Type.String(), Type.String()),
  asked: Type.Array(closed({ value: Type.String(), currency: Type.String() }), {
    description: 'every price of the moment, the buyer’s own currency first',
  }),
  left: nullable(Type.Integer()),
  launchAt: nullable(Moment),
  now: Moment,
  page: Type.String(),
  refundDays: Type.Integer(),
  receiptNote: Type.String(),
  delivery: Type.String(),
  accessPage: Type.String(),
  accessParameters: Type.Array(Type.String()),
  picture: Type.String(),
  brand: Type.String(),
  support: closed({ address: Type.String(), page: Type.String(), phone: Type.String() }),
  recurring: nullable(
    closed({
      trialDays: Type.Integer(),
      renewalPrice: Type.String(),
      interval: Type.String(),
      intervalDays: Type.Integer(),
      renewals: nullable(Type.Integer()),
      name: Type.String(),
      description: Type.String(),
    }),
  ),
  instalments: nullable(Type.Array(Type.String())),
  steps: Type.Array(
    closed({
      code: Type.String(),
      product: Type.String(),
      name: Type.String(),
      price: Type.String(),
      currency: Type.String(),
      onYes: nullable(Type.String()),
      onNo: nullable(Type.String()),
    }),
  ),
  first: nullable(Type.String()),
});

export type Offer = (typeof Offer)['static'];

export const readProductOffer = endpoint('GET', '/api/open/v1/products/:id', {
  summary: 'A product as a shop’s page shows it: present price, units left at it, renewals, follow-on offers',
  access: 'open',
  params: closed({ id: words('Code', 40) }),
  query: closed({ country: Type.Optional(words('Country of the buyer', 2, { example: 'GB' })) }),
  reply: Offer,
});

export const Download = closed({
  product: Type.String({ description: 'the code of the product' }),
  name: Type.String({ description: 'name of the file' }),
  url: Type.String({ description: 'for the buyer; good until the moment beside it' }),
  until: Type.String({ description: 'ISO 8601' }),
});

export type Download = (typeof Download)['static'];

export const Confirmation = closed({
  offers: Type.Array(
    closed({
      code: Type.String(),
      name: Type.String(),
      description: Type.String(),
      price: nullable(closed({ value: Type.String(), currency: Type.String() })),
      page: Type.String(),
      picture: Type.String(),
    }),
  ),
});

export const readConfirmation = endpoint('GET', '/api/open/v1/confirmation', {
  summary: 'What to offer on the confirmation page, after what was bought',
  access: 'open',
  query: closed({ bought: words('Codes of what was bought', 1000, { example: 'WHEEL-1,ROLL-1' }) }),
  reply: Confirmation,
});
