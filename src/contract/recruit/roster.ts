import { Type } from '@sinclair/typebox';
import { timings } from '../../core/ledger/timing';
import { bulkKinds, importOutcomes, rosterOnly, rosterSorts } from '../../core/recruiting/lists';
import { affiliateStates } from '../../core/recruiting/states';
import { endpoint, managing, readers } from '../endpoint';
import { ChangeOut, Later } from '../setup/sets';
import {
  byId,
  closed,
  countsBy,
  filtered,
  idOf,
  listBytes,
  Moment,
  MoneyOut,
  nullable,
  oneOf,
  page,
  Replaces,
  searchText,
  Version,
  words,
  wordsRequired,
} from '../shared';
import { PracticeName } from './practices';

const SetOrNone = Type.Union([idOf('set'), Type.Literal('none')]);
const filterFields = {
  state: Type.Optional(oneOf('State', affiliateStates)),
  q: searchText,
  group: Type.Optional(SetOrNone),
  tag: Type.Optional(SetOrNone),
  card: Type.Optional(SetOrNone),
  kind: Type.Optional(Type.String({ maxLength: 40 })),
  country: Type.Optional(Type.String({ maxLength: 2 })),
  timing: Type.Optional(oneOf('Timing', timings)),
  lookedAfter: Type.Optional(Type.Union([idOf('staff'), Type.Literal('nobody')])),
  practice: Type.Optional(PracticeName),
  only: Type.Optional(oneOf('Only', rosterOnly)),
};
export const RosterFilter = closed(filterFields);
const Named = closed({ id: idOf('set'), name: Type.String() });
export const AffiliateRow = closed({
  id: idOf('affiliate'),
  handle: Type.String(),
  name: Type.String(),
  email: Type.String(),
  country: Type.String(),
  sites: Type.Array(Type.String()),
  state: oneOf('State', affiliateStates),
  timing: oneOf('Timing', timings),
  kind: Type.String(),
  lookedAfter: nullable(Type.String({ description: 'name' })),
  clicks90: Type.Integer(),
  orders: Type.Integer(),
  owed: MoneyOut,
  paid: MoneyOut,
  joinedAt: nullable(Moment),
  promotes: Type.Boolean({ description: 'false: has a share of a product and promotes nothing' }),
  mailFault: nullable(Type.String()),
  group: nullable(Named),
  card: nullable(Named),
  tags: Type.Array(closed({ ...Named.properties, colour: Type.String() })),
});
const sorted = { sort: Type.Optional(oneOf('Sort', rosterSorts)) };
export const listAffiliates = endpoint('GET', '/api/v1/affiliates', {
  summary: 'The roster',
  access: readers,
  query: filtered({ ...filterFields, ...sorted }),
  reply: closed({
    ...page(AffiliateRow).properties,
    total: Type.Integer(),
    staff: Type.Array(closed({ id: idOf('staff'), name: Type.String() })),
    practices: Type.Array(closed({ key: PracticeName, name: Type.String() })),
  }),
});
export const exportAffiliates = endpoint('GET', '/api/v1/affiliates.csv', {
  summary: 'The roster as it is shown, as CSV',
  access: readers,
  query: closed({
    ...filterFields,
    ...sorted,
    columns: Type.Optional(Type.String({ maxLength: 400, title: 'Columns' })),
  }),
  media: 'text/csv',
});

const SegmentOut = closed({
  id: idOf('segment'),
  name: Type.String(),
  filter: RosterFilter,
  columns: Type.Array(Type.String()),
  count: Type.Integer(),
  version: Version,
});
const segmentFields = {
  name: wordsRequired('Name', 60, 'Teachers without a click'),
  filter: RosterFilter,
  columns: Type.Array(words('Column', 20), { maxItems: 20, title: 'Columns' }),
};
export const listSegments = endpoint('GET', '/api/v1/segments', {
  summary: 'Saved filters of the roster',
  access: readers,
  reply: closed({ rows: Type.Array(SegmentOut) }),
});
export const saveSegment = endpoint('POST', '/api/v1/segments', {
  summary: 'Save a filter by a name; one with the same name is replaced where its version is given',
  access: managing,
  once: true,
  body: closed({ ...segmentFields, replaces: Replaces }),
  reply: SegmentOut,
});
export const removeSegment = endpoint('POST', '/api/v1/segments/:id/remove', {
  summary: 'Remove a segment, or bring it back; nobody in it is touched',
  access: managing,
  once: true,
  params: byId('segment'),
  body: closed({ on: Type.Boolean({ title: 'Removed' }) }),
});

/** Whom an act or a message is for: named affiliates, or all who fit a filter. */
export const Whom = {
  ids: Type.Optional(Type.Array(idOf('affiliate'), { minItems: 1, maxItems: 10_000, title: 'Affiliates' })),
  filter: Type.Optional(RosterFilter),
};
const Act = { ...Whom, what: oneOf('What', bulkKinds), to: nullable(words('To', 60)) };
export const previewBulk = endpoint('POST', '/api/v1/affiliates/bulk/preview', {
  summary: 'What an act on many would do; changes nothing',
  access: managing,
  body: closed(Act),
  reply: closed({
    count: Type.Integer(),
    same: Type.Integer(),
    passed: Type.Array(closed({ name: Type.String(), why: Type.String() })),
    sample: Type.Array(ChangeOut),
    later: Later,
  }),
});
export const doBulk = endpoint('POST', '/api/v1/affiliates/bulk', {
  summary: 'Act on many at once',
  access: managing,
  once: true,
  body: closed(Act),
  reply: closed({ id: nullable(idOf('bulk')), done: Type.Integer(), passed: Type.Integer(), later: Later }),
});
export const undoBulk = endpoint('POST', '/api/v1/affiliates/bulk/:id/undo', {
  summary: 'Take an act on many back, where it still stands',
  access: managing,
  once: true,
  params: byId('bulk'),
  reply: closed({ done: Type.Integer(), passed: Type.Integer(), later: Later }),
});

const Csv = Type.String({
  title: 'List',
  maxLength: 5_000_000,
  minLength: 1,
  examples: ['email,name,country,site\nmara@loamletters.example,Loam Letters,PT,loamletters.example'],
});
const ImportLine = closed({
  line: Type.Integer(),
  said: Type.String(),
  name: Type.String(),
  outcome: oneOf('Outcome', importOutcomes),
  why: Type.String(),
});
export const previewImport = endpoint('POST', '/api/v1/affiliates/import/preview', {
  summary: 'What reading a list in would do, line by line, those at fault first; changes nothing',
  access: managing,
  most: listBytes,
  body: closed({ csv: Csv }),
  reply: closed({
    lines: Type.Array(ImportLine),
    counts: countsBy(importOutcomes),
    total: Type.Integer(),
    passedHeadings: Type.Array(Type.String()),
    missingSets: Type.Array(Type.String()),
  }),
});
export const runImport = endpoint('POST', '/api/v1/affiliates/import', {
  summary: 'Read a piece of a list in; lines at fault are left out',
  access: managing,
  once: true,
  most: listBytes,
  body: closed({
    csv: Csv,
    from: Type.Integer({ minimum: 0, title: 'From' }),
    most: Type.Integer({ minimum: 1, maximum: 500, title: 'Lines' }),
    tell: Type.Boolean({ title: 'Welcome newcomers' }),
  }),
  reply: closed({
    added: Type.Integer(),
    changed: Type.Integer(),
    same: Type.Integer(),
    wrong: Type.Integer(),
    next: nullable(Type.Integer()),
  }),
});

export const setSorting = endpoint('PUT', '/api/v1/affiliates/:id/sorting', {
  summary: 'Kind of partner, and who looks after it',
  access: managing,
  once: true,
  params: byId('affiliate'),
  body: closed({
    kind: Type.Optional(words('Kind', 40)),
    lookedAfter: Type.Optional(nullable(idOf('staff'))),
    version: Version,
  }),
  reply: closed({ version: Version }),
});
export const setTrust = endpoint('PUT', '/api/v1/affiliates/:id/trust', {
  summary: 'Let in for later products too, until a day; or no longer',
  access: managing,
  once: true,
  params: byId('affiliate'),
  body: closed({
    on: Type.Boolean({ title: 'Trusted' }),
    until: words('Until', 10, { example: '2027-12-31', pattern: '^(\\d{4}-\\d{2}-\\d{2})?$' }),
    atSale: Type.Boolean({ title: 'At sale' }),
  }),
  reply: nullable(closed({ until: nullable(Moment), atSale: Type.Boolean(), since: Moment })),
});
