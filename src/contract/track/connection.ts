import { Type } from '@sinclair/typebox';
import { reportOutcomes, reportWays } from '../../core/tracking/lists';
import { endpoint, managing, owning, readers } from '../endpoint';
import {
  byId,
  closed,
  countsBy,
  filtered,
  idOf,
  Moment,
  nullable,
  oneOf,
  page,
  searchText,
  words,
} from '../shared';

// control characters stop here: a reference ends up in files, mails and lists
// null says the same as leaving it out: a shop without a visit should not have to build another body
// The tracking contract, version 1: it may gain optional fields, it never changes otherwise.

export const ReportRow = closed({
  id: idOf('report'),
  at: Moment,
  call: Type.String(),
  way: oneOf('Way', reportWays),
  reference: nullable(Type.String()),
  outcome: oneOf('Outcome', reportOutcomes),
  status: Type.Integer(),
  said: Type.String(),
  order: nullable(idOf('order')),
  count: Type.Integer({ description: 'how many came like it within the minute, from one address' }),
});

export const readConnection = endpoint('GET', '/api/v1/connection', {
  summary: 'How the shop is connected, and whether it speaks',
  access: readers,
  reply: closed({
    address: Type.String(),
    shop: nullable(Type.String()),
    keys: Type.Array(
      closed({
        id: Type.String(),
        label: Type.String(),
        createdAt: Moment,
        pictures: Type.Boolean(),
        readable: Type.Boolean({ description: 'false: the seal of its secret was lost' }),
      }),
    ),
    landingHosts: Type.Array(Type.String()),
    lastVisit: nullable(Moment),
    lastReport: nullable(Moment),
    lastOrder: nullable(Moment),
    counts: countsBy(reportOutcomes),
    doubled: Type.Integer(),
    snippet: Type.String(),
    picture: Type.String(),
  }),
});

export const createKey = endpoint('POST', '/api/v1/connection/keys', {
  summary: 'Make a signing key; its secret is shown by another call, so that no kept answer holds it',
  access: owning,
  once: true,
  body: closed({ label: words('Label', 60, { least: 1, example: 'Shop' }) }),
  reply: closed({ id: Type.String() }),
});

export const revealKey = endpoint('POST', '/api/v1/connection/keys/:id/secret', {
  summary: 'Show the secret of a key',
  access: owning,
  params: closed({ id: Type.String({ maxLength: 60 }) }),
  reply: closed({ id: Type.String(), secret: Type.String() }),
});

export const switchPictures = endpoint('PUT', '/api/v1/connection/keys/:id/pictures', {
  summary: 'Whether pages may report sales by the fallback picture with a key; such sales are unconfirmed',
  access: owning,
  once: true,
  params: closed({ id: Type.String({ maxLength: 60 }) }),
  body: closed({ on: Type.Boolean({ title: 'Pictures' }) }),
  reply: closed({ id: Type.String(), pictures: Type.Boolean() }),
});

export const renewKey = endpoint('POST', '/api/v1/connection/keys/:id/renew', {
  summary: 'Make the secret of a key anew whose seal was lost',
  access: owning,
  once: true,
  params: closed({ id: Type.String({ maxLength: 60 }) }),
  reply: closed({ id: Type.String(), secret: Type.String() }),
});

export const listReports = endpoint('GET', '/api/v1/reports', {
  summary: 'Every report of the shop with its outcome, newest first',
  access: readers,
  reply: page(ReportRow),
  query: filtered({ outcome: Type.Optional(oneOf('Outcome', reportOutcomes)), q: searchText }),
});

export const readReport = endpoint('GET', '/api/v1/reports/:id', {
  summary: 'A report as it came',
  access: readers,
  params: byId('report'),
  reply: Type.Composite([ReportRow, closed({ body: Type.String() })], { additionalProperties: false }),
});

export const clearTests = endpoint('POST', '/api/v1/orders/clear-tests', {
  summary: 'Clear every test purchase: they were never paid and never counted',
  access: managing,
  once: true,
  reply: closed({ cleared: Type.Integer() }),
});
