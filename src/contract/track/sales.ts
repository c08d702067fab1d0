import { Type } from '@sinclair/typebox';
import { commissionStates } from '../../core/ledger/commission';
import { timings } from '../../core/ledger/timing';
import { events } from '../../core/terms/rate';
import { refundKinds, reportWays } from '../../core/tracking/lists';
import { endpoint, readers } from '../endpoint';
import { ShareOut } from '../setup/shares';
import { LifeRow, WorkingOut } from '../setup/terms';
import {
  byId,
  closed,
  filtered,
  idOf,
  Moment,
  MoneyOut,
  nullable,
  oneOf,
  page,
  searchText,
  words,
} from '../shared';
import { ReportRow } from './connection';
import { Download } from './pages';

// control characters stop here: a reference ends up in files, mails and lists
// null says the same as leaving it out: a shop without a visit should not have to build another body
// The tracking contract, version 1: it may gain optional fields, it never changes otherwise.
export const OrderRow = closed({
  id: idOf('order'),
  reference: Type.String(),
  payment: Type.String(),
  placedAt: Moment,
  products: Type.String(),
  affiliate: nullable(Type.String()),
  affiliateId: nullable(idOf('affiliate')),
  value: MoneyOut,
  base: MoneyOut,
  commission: nullable(MoneyOut),
  shares: MoneyOut,
  state: nullable(oneOf('State', commissionStates)),
  refunded: Type.Boolean(),
  test: Type.Boolean(),
  reason: Type.String(),
  event: oneOf('Kind', events),
  number: Type.Integer(),
});

const orderFilter = {
  q: searchText,
  affiliate: Type.Optional(idOf('affiliate')),
  credited: Type.Optional(oneOf('Credited', ['yes', 'no'])),
  from: Type.Optional(words('From', 10)),
  to: Type.Optional(words('To', 10)),
};

export const listOrders = endpoint('GET', '/api/v1/orders', {
  summary: 'Sales, newest first',
  access: readers,
  query: filtered(orderFilter),
  reply: page(OrderRow),
});

export const exportOrders = endpoint('GET', '/api/v1/orders.csv', {
  summary: 'The same list as CSV',
  access: readers,
  query: filtered(orderFilter),
  media: 'text/csv',
});

/** What the buyer came by, and the coupon that the order carried. */
const CameOut = closed({
  link: nullable(Type.String({ description: 'code of the tracking link of the credited visit' })),
  landing: nullable(Type.String()),
  subIds: Type.Array(closed({ name: Type.String(), value: Type.String() })),
  creative: nullable(closed({ id: idOf('creative'), name: Type.String() })),
  /** a code that is none of ours has no coupon */
  coupon: nullable(closed({ code: Type.String(), id: nullable(idOf('coupon')) })),
});

export const readOrder = endpoint('GET', '/api/v1/orders/:id', {
  summary: 'A sale with its working',
  access: readers,
  params: byId('order'),
  reply: closed({
    row: OrderRow,
    way: oneOf('Way', reportWays),
    otherWay: nullable(Type.String({ description: 'what was reported the other way, in words' })),
    receivedAt: Moment,
    came: CameOut,
    working: WorkingOut,
    commission: nullable(idOf('commission')),
    timing: nullable(oneOf('Payment timing', timings)),
    clearsAt: nullable(Moment),
    declined: nullable(Type.String()),
    lines: Type.Array(
      closed({
        code: Type.String(),
        name: Type.String(),
        quantity: Type.Integer(),
        amount: MoneyOut,
        discount: MoneyOut,
        value: MoneyOut,
        left: MoneyOut,
      }),
    ),
    refunds: Type.Array(
      closed({
        reference: Type.String(),
        at: Moment,
        kind: oneOf('Kind', refundKinds),
        value: MoneyOut,
        reversed: MoneyOut,
      }),
    ),
    shares: Type.Array(ShareOut),
    downloads: Type.Array(Download),
    life: Type.Array(LifeRow),
    reports: Type.Array(ReportRow),
  }),
});
