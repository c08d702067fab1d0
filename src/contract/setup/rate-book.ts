import { Type } from '@sinclair/typebox';
import {
  afterwards,
  cellSources,
  changeKinds,
  changeStates,
  columnKinds,
  jobStates,
  lockedEvents,
  payKinds,
  rateModes,
  rowKinds,
  switchOps,
} from '../../core/terms/lists';
import { events } from '../../core/terms/rate';
import { endpoint, managing, readers } from '../endpoint';
import {
  byId,
  closed,
  decimal,
  filtered,
  idOf,
  Moment,
  MoneyOut,
  nullable,
  oneOf,
  page,
  Version,
  words,
} from '../shared';
import { PresentedLine } from './terms';

/** A wall-clock moment of the programme's zone, as a form gives it. */
const wall = (title: string) =>
  words(title, 16, {
    least: 16,
    example: '2027-04-01T09:00',
    pattern: '^\\d{4}-\\d{2}-\\d{2}T\\d{2}:\\d{2}$',
  });
const Column = closed({
  of: oneOf('Column', columnKinds),
  id: Type.Optional(idOf('affiliate', 'set')),
});
const Row = closed({
  of: oneOf('Row', rowKinds),
  id: Type.Optional(Type.String({ maxLength: 60, title: 'Row' })),
});

const payments = Type.Integer({ minimum: 2, maximum: 1000, title: 'Payment', examples: [2] });
export const RewardIn = closed({
  kind: oneOf('Reward', [...payKinds, 'bands']),
  value: Type.Optional(decimal('Reward', '12.5')),
  also: Type.Optional(Type.Record(Type.String({ pattern: '^[A-Z]{3}$' }), decimal('Amount', '6.50'))),
  bands: Type.Optional(
    Type.Array(
      closed({
        from: decimal('From', '60.00'),
        kind: oneOf('Reward', payKinds),
        value: decimal('Reward', '10'),
      }),
      { maxItems: 20, title: 'Order bands' },
    ),
  ),
});
export type RewardIn = (typeof RewardIn)['static'];

export const SetChange = closed({
  column: Column,
  row: Row,
  event: oneOf('Event', events),
  mode: oneOf('Kind', rateModes),
  reward: RewardIn,
  payments: Type.Optional(
    nullable(closed({ first: payments, last: nullable(payments), after: oneOf('Afterwards', afterwards) })),
  ),
  cap: Type.Optional(nullable(decimal('Cap', '20.00'))),
  from: Type.Optional(nullable(wall('Start'))),
  until: Type.Optional(nullable(wall('End'))),
  label: Type.Optional(words('Name', 80, { example: 'Spring week' })),
});
export type SetChange = (typeof SetChange)['static'];
/** End a rate, lock a product's own terms, pause a group: `id` is the rate, the product or the group. */
export const SwitchChange = closed({
  op: oneOf('Change', switchOps),
  id: idOf('rate', 'product', 'set'),
  event: Type.Optional(oneOf('Payment', lockedEvents)),
  on: Type.Optional(Type.Boolean({ title: 'On' })),
});
export type SwitchChange = (typeof SwitchChange)['static'];

const Fault = closed({ what: Type.String(), example: Type.String() });
export const ChangeRow = closed({
  id: idOf('change', 'rate'),
  place: Type.String(),
  before: Type.String(),
  after: Type.String(),
  from: nullable(Moment),
  until: nullable(Moment),
  faults: Type.Array(Fault),
  ignoredBy: Type.Array(Type.String()),
  cut: nullable(Type.String()),
});
export const RehearsalOut = closed({
  id: idOf('rehearsal'),
  draft: idOf('draft'),
  outdated: Type.Boolean({ description: 'the draft has changed since' }),
  at: Moment,
  from: Type.String(),
  to: Type.String(),
  state: oneOf('State', jobStates),
  done: Type.Integer(),
  total: Type.Integer(),
  tookMs: nullable(Type.Integer()),
  result: nullable(
    closed({
      orders: Type.Integer(),
      lines: Type.Integer(),
      changed: Type.Integer(),
      stored: MoneyOut,
      drafted: MoneyOut,
      difference: MoneyOut,
      products: Type.Array(
        closed({
          id: idOf('product'),
          name: Type.String(),
          lines: Type.Integer(),
          stored: MoneyOut,
          drafted: MoneyOut,
          difference: MoneyOut,
        }),
      ),
      affiliates: Type.Array(
        closed({
          id: idOf('affiliate'),
          name: Type.String(),
          lines: Type.Integer(),
          stored: MoneyOut,
          drafted: MoneyOut,
          difference: MoneyOut,
        }),
      ),
      affiliatesChanged: Type.Integer(),
      less: Type.Array(closed({ id: idOf('affiliate'), name: Type.String(), difference: MoneyOut })),
      lessCount: Type.Integer(),
      most: Type.Array(
        closed({
          order: idOf('order'),
          position: Type.Integer(),
          reference: Type.String(),
          affiliate: Type.String(),
          product: Type.String(),
          stored: MoneyOut,
          drafted: MoneyOut,
          difference: MoneyOut,
        }),
      ),
    }),
  ),
});
export type RehearsalOut = (typeof RehearsalOut)['static'];
export const DraftOut = closed({
  id: idOf('draft'),
  version: Version,
  from: nullable(Moment),
  changes: Type.Array(ChangeRow),
  cuts: Type.Integer(),
  earliest: nullable(Moment),
  noticeWeeks: Type.Integer(),
  past: Type.Boolean(),
  affected: Type.Integer(),
  ready: Type.Boolean(),
  rehearsal: nullable(RehearsalOut),
});
export type DraftOut = (typeof DraftOut)['static'];

const Cell = closed({
  text: Type.String(),
  full: Type.String(),
  from: oneOf('From', cellSources),
  rate: nullable(idOf('rate')),
  locked: Type.Boolean(),
  uplift: nullable(closed({ label: Type.String(), until: nullable(Moment) })),
  was: nullable(Type.String()),
});
export const RateBookOut = closed({
  at: Moment,
  today: Type.Boolean(),
  columns: Type.Array(
    closed({
      of: oneOf('Column', columnKinds),
      id: Type.Union([Type.Literal(''), idOf('affiliate', 'set')]),
      name: Type.String(),
      members: Type.Integer(),
      paused: Type.Boolean(),
      next: nullable(Moment),
    }),
  ),
  rows: Type.Array(
    closed({
      of: oneOf('Row', rowKinds),
      id: Type.String(),
      name: Type.String(),
      code: Type.String(),
      kind: Type.String(),
      state: Type.String(),
      indent: Type.Boolean(),
      lockable: Type.Boolean(),
      locked: Type.Boolean(),
      cells: Type.Array(Cell),
    }),
  ),
});
export type RateBookOut = (typeof RateBookOut)['static'];

export const readRateBook = endpoint('GET', '/api/v1/rate-book', {
  summary: 'Every effective rate as of a day',
  access: readers,
  reply: RateBookOut,
  query: closed({
    event: Type.Optional(oneOf('Event', events)),
    payment: Type.Optional(Type.Integer({ minimum: 1, maximum: 1000, title: 'Payment' })),
    day: Type.Optional(words('Day', 10, { pattern: '^\\d{4}-\\d{2}-\\d{2}$', example: '2027-04-01' })),
    affiliates: Type.Optional(Type.String({ maxLength: 400, title: 'Affiliates' })),
    retired: Type.Optional(Type.Boolean({ title: 'Retired' })),
  }),
});
export const askRateBook = endpoint('GET', '/api/v1/rate-book/ask', {
  summary: 'What anybody earns on anything, with the working',
  access: readers,
  query: closed({
    column: oneOf('Column', columnKinds),
    who: Type.Optional(idOf('affiliate', 'set')),
    product: Type.Optional(idOf('product')),
    step: Type.Optional(Type.String({ maxLength: 60, title: 'Step' })),
    event: Type.Optional(oneOf('Event', events)),
    payment: Type.Optional(Type.Integer({ minimum: 1, maximum: 1000, title: 'Payment' })),
    value: Type.Optional(decimal('Order value', '120.00')),
    currency: Type.Optional(words('Currency', 3)),
    at: Type.Optional(wall('Moment')),
    draft: Type.Optional(Type.Boolean({ title: 'Under the draft' })),
  }),
  reply: closed({
    who: Type.String(),
    about: Type.Array(Type.String()),
    product: Type.String(),
    at: Moment,
    value: MoneyOut,
    total: MoneyOut,
    lines: Type.Array(PresentedLine),
    exchange: nullable(Type.String()),
  }),
});

export const readDraft = endpoint('GET', '/api/v1/draft', {
  summary: 'My open draft of terms',
  access: managing,
  reply: nullable(DraftOut),
});
export const draftRate = endpoint('POST', '/api/v1/draft/rates', {
  summary: 'Put a rate or an uplift into my draft; one in the same place takes its place',
  access: managing,
  once: true,
  body: SetChange,
  reply: DraftOut,
});
export const draftSwitch = endpoint('POST', '/api/v1/draft/switches', {
  summary: 'Put the end of a rate, a lock or a pause into my draft',
  access: managing,
  once: true,
  body: SwitchChange,
  reply: DraftOut,
});
export const dropChange = endpoint('POST', '/api/v1/draft/changes/:id/remove', {
  summary: 'Take a change out of my draft',
  access: managing,
  params: byId('change', 'rate'),
  reply: nullable(DraftOut),
  once: true,
});
export const dateDraft = endpoint('PUT', '/api/v1/draft', {
  summary: 'When my draft is to begin; null = when it is saved',
  access: managing,
  once: true,
  body: closed({ from: nullable(wall('Start')), version: Version }),
  reply: DraftOut,
});
export const saveDraft = endpoint('POST', '/api/v1/draft/save', {
  summary: 'Make my draft count',
  access: managing,
  once: true,
  body: closed({ version: Version }),
  reply: closed({ saved: Type.Integer(), from: Moment, last: Moment, replaced: Type.Integer() }),
});
export const discardDraft = endpoint('POST', '/api/v1/draft/discard', {
  summary: 'Throw my draft away',
  access: managing,
  once: true,
  body: closed({ version: Version }),
});

const day = (title: string) => words(title, 10, { pattern: '^\\d{4}-\\d{2}-\\d{2}$', example: '2026-12-12' });
export const startRehearsal = endpoint('POST', '/api/v1/rehearsals', {
  summary: 'Replay the past under my draft; changes nothing',
  access: managing,
  once: true,
  body: closed({ from: day('From'), to: day('To') }),
  reply: RehearsalOut,
});
export const readRehearsal = endpoint('GET', '/api/v1/rehearsals/:id', {
  summary: 'Progress and result of a rehearsal',
  access: readers,
  params: byId('rehearsal'),
  reply: RehearsalOut,
});
export const cancelRehearsal = endpoint('POST', '/api/v1/rehearsals/:id/cancel', {
  summary: 'Stop a rehearsal',
  access: managing,
  params: byId('rehearsal'),
  reply: RehearsalOut,
  once: true,
});
export const compareLine = endpoint('GET', '/api/v1/rehearsals/:id/lines/:order', {
  summary: 'A line of a rehearsal with both workings',
  access: readers,
  params: closed({ id: idOf('rehearsal'), order: idOf('order') }),
  query: closed({ position: Type.Integer({ minimum: 0, maximum: 500, title: 'Position' }) }),
  reply: closed({ reference: Type.String(), stored: nullable(PresentedLine), drafted: PresentedLine }),
});
export const readSample = endpoint('GET', '/api/v1/rehearsal-sample', {
  summary: 'The last 2,000 credited lines and the terms they need, for an estimate while typing',
  access: managing,
  reply: closed({
    since: nullable(Moment),
    lines: Type.Integer(),
    orders: Type.Array(Type.Unknown()),
    terms: Type.Unknown(),
    changes: Type.Array(Type.Unknown()),
  }),
});

export const TimelineRow = closed({
  id: idOf('rate', 'lock', 'pause', 'tagOrder', 'referral', 'coOwner', 'planned'),
  kind: oneOf('Kind', changeKinds),
  place: Type.String(),
  what: Type.String(),
  from: Moment,
  until: nullable(Moment),
  state: oneOf('State', changeStates),
  by: Type.String(),
  at: nullable(Moment),
  undoes: nullable(
    Type.Union([Type.Literal('change'), Type.Literal('end')], {
      description:
        'what undoing it does: the change never begins, or the end that was scheduled for it is withdrawn',
    }),
  ),
});
export const readTimeline = endpoint('GET', '/api/v1/timeline', {
  summary: 'Every change of terms, and what is planned for creatives and coupons, latest start first',
  access: readers,
  query: filtered({ state: Type.Optional(oneOf('State', ['coming', 'running', 'done'])) }),
  reply: page(TimelineRow),
});
export const undoTimeline = endpoint('POST', '/api/v1/timeline/:id/undo', {
  summary: 'Undo a change that has not begun, or withdraw the scheduled end of one that runs',
  access: managing,
  params: closed({ id: idOf('rate', 'lock', 'pause', 'tagOrder', 'referral', 'coOwner', 'planned') }),
  reply: closed({ undone: Type.Boolean() }),
  once: true,
});
