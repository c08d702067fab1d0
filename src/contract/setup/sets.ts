import { Type } from '@sinclair/typebox';
import { elsewhere, memberOutcomes, setKinds, tagColours } from '../../core/terms/lists';
import { endpoint, managing, readers } from '../endpoint';
import {
  byId,
  closed,
  countsBy,
  filtered,
  idOf,
  listBytes,
  Moment,
  nullable,
  oneOf,
  page,
  paragraphs,
  Version,
  wordsRequired,
} from '../shared';

export const SetOut = closed({
  id: idOf('set'),
  of: oneOf('Kind', setKinds),
  name: Type.String(),
  about: Type.String(),
  colour: Type.String(),
  openJoin: Type.Boolean(),
  openChange: Type.Boolean(),
  standard: Type.Boolean(),
  members: Type.Integer(),
  rates: Type.Integer({ description: 'rates in force or coming that are for it' }),
  paused: Type.Boolean(),
  ignoredBy: Type.Array(Type.String({ description: 'products whose lock skips it' })),
  createdAt: Moment,
  version: Version,
});
export type SetOut = (typeof SetOut)['static'];

const fields = {
  name: wordsRequired('Name', 60, 'Studio circle'),
  about: paragraphs('Description', 400, { example: 'Teachers with a studio of their own' }),
  colour: Type.Optional(oneOf('Colour', ['', ...tagColours])),
  openJoin: Type.Optional(Type.Boolean({ title: 'Open at sign-up' })),
  openChange: Type.Optional(Type.Boolean({ title: 'Open for later change' })),
};
export const SetIn = closed({ of: oneOf('Kind', setKinds), ...fields });
export const SetEdit = closed({ ...fields, version: Version });
export type SetIn = (typeof SetIn)['static'];
export type SetEdit = (typeof SetEdit)['static'];

export const listSets = endpoint('GET', '/api/v1/sets', {
  summary: 'Rate cards, groups and tags',
  access: readers,
  reply: closed({ rows: Type.Array(SetOut) }),
});
export const createSet = endpoint('POST', '/api/v1/sets', {
  summary: 'Create a card, a group or a tag',
  access: managing,
  body: SetIn,
  reply: SetOut,
  once: true,
});
export const editSet = endpoint('PUT', '/api/v1/sets/:id', {
  summary: 'Rename or describe',
  access: managing,
  params: byId('set'),
  body: SetEdit,
  reply: SetOut,
  once: true,
});
export const pauseSet = endpoint('POST', '/api/v1/sets/:id/pause', {
  summary: 'Pause or resume a group',
  access: managing,
  params: byId('set'),
  body: closed({ on: Type.Boolean({ title: 'Paused' }) }),
  reply: SetOut,
  once: true,
});

const Change = closed({ product: Type.String(), before: Type.String(), after: Type.String() });
/** Those who would earn less move when the promised notice is over; null = nobody would. */
export const Later = nullable(
  closed({
    count: Type.Integer(),
    from: Moment,
    cut: Type.String({ description: 'the first case in words' }),
  }),
);
export const ChangeOut = closed({
  affiliate: idOf('affiliate'),
  name: Type.String(),
  handle: Type.String(),
  changes: Type.Array(Change),
});

export const previewRemoval = endpoint('GET', '/api/v1/sets/:id/removal', {
  summary: 'What removing would mean: members, rates that end, and their terms before and after',
  access: readers,
  params: byId('set'),
  query: closed({ to: Type.Optional(idOf('set')) }),
  reply: closed({
    members: Type.Integer(),
    rates: Type.Integer(),
    blocked: nullable(Type.String()),
    cut: nullable(
      Type.String({
        description: 'what somebody would earn less on: it cannot be removed before the notice is over',
      }),
    ),
    sample: Type.Array(ChangeOut),
  }),
});
export const removeSet = endpoint('POST', '/api/v1/sets/:id/remove', {
  summary: 'Remove; its rates end, members of a card move to another',
  access: managing,
  params: byId('set'),
  once: true,
  body: closed({ to: Type.Optional(nullable(idOf('set'))), version: Version }),
  reply: closed({ moved: Type.Integer(), ended: Type.Integer() }),
});
export const restoreSet = endpoint('POST', '/api/v1/sets/:id/restore', {
  summary: 'Take a removal back: members and rates return',
  access: managing,
  params: byId('set'),
  reply: SetOut,
  once: true,
});

export const listMembers = endpoint('GET', '/api/v1/sets/:id/members', {
  summary: 'Members by name',
  access: readers,
  params: byId('set'),
  query: filtered({ q: Type.Optional(Type.String({ maxLength: 100, title: 'Search' })) }),
  reply: page(
    closed({
      id: idOf('affiliate'),
      handle: Type.String(),
      name: Type.String(),
      state: Type.String(),
      since: Moment,
    }),
  ),
});
const Names = Type.String({
  title: 'Affiliates',
  maxLength: 600_000,
  examples: ['loam-letters, kiln-notes'],
});
export const MemberLine = closed({
  line: Type.Integer(),
  said: Type.String(),
  outcome: oneOf('Outcome', memberOutcomes),
  affiliate: nullable(idOf('affiliate')),
  name: nullable(Type.String()),
  from: nullable(Type.String()),
});
export const previewMembers = endpoint('POST', '/api/v1/sets/:id/members/preview', {
  summary: 'What adding these handles, addresses or lines of CSV would do, line by line; changes nothing',
  access: managing,
  params: byId('set'),
  most: listBytes,
  body: closed({ names: Names }),
  reply: closed({
    lines: Type.Array(MemberLine),
    counts: countsBy(memberOutcomes),
    sample: Type.Array(ChangeOut),
    later: Later,
  }),
});
export const addMembers = endpoint('POST', '/api/v1/sets/:id/members', {
  summary: 'Add members; those elsewhere are moved or kept where they are',
  access: managing,
  params: byId('set'),
  once: true,
  most: listBytes,
  body: closed({ names: Names, others: oneOf('Those elsewhere', elsewhere) }),
  reply: closed({
    withdrawn: Type.Integer({
      description: 'those who are in the set, and whose move away from it waited for its notice',
    }),
    added: Type.Integer(),
    moved: Type.Integer(),
    kept: Type.Integer(),
    already: Type.Integer(),
    repeated: Type.Integer(),
    unknown: Type.Integer(),
    lines: Type.Array(MemberLine),
    later: Later,
  }),
});
export const dropMembers = endpoint('POST', '/api/v1/sets/:id/members/drop', {
  summary: 'Take members out of a group or a tag',
  access: managing,
  params: byId('set'),
  once: true,
  body: closed({
    affiliates: Type.Array(idOf('affiliate'), { minItems: 1, maxItems: 10_000, title: 'Affiliates' }),
  }),
  reply: closed({ dropped: Type.Integer(), later: Later }),
});
export const orderTags = endpoint('PUT', '/api/v1/tag-order', {
  summary: 'The order in which tags decide, from now on',
  access: managing,
  once: true,
  body: closed({ tags: Type.Array(idOf('set'), { maxItems: 500, title: 'Tags' }) }),
  reply: closed({ tags: Type.Array(idOf('set')), from: nullable(Moment) }),
});

const Places = {
  card: Type.Optional(idOf('set')),
  group: Type.Optional(nullable(idOf('set'))),
  tags: Type.Optional(Type.Array(idOf('set'), { maxItems: 100, title: 'Tags' })),
  coming: Type.Optional(oneOf('What waits for its notice', ['stop'])),
};
/** A move that waits for its notice; `to` null: leaving the group or the tag. */
const Waiting = closed({
  of: oneOf('What', setKinds),
  to: nullable(idOf('set')),
  from: Moment,
  says: Type.String({ description: 'the move in words, with its day' }),
});
const PlacesOut = Type.Composite(
  [
    ChangeOut,
    closed({
      later: Later,
      withdraws: Type.Array(Waiting, {
        description: 'moves that wait for their notice and that the choice of what is in force withdraws',
      }),
    }),
  ],
  { additionalProperties: false },
);
export const readPlaces = endpoint('GET', '/api/v1/affiliates/:id/places', {
  summary: 'Card, group and tags of an affiliate',
  access: readers,
  params: byId('affiliate'),
  reply: closed({
    card: nullable(idOf('set')),
    group: nullable(idOf('set')),
    tags: Type.Array(idOf('set')),
    waiting: Type.Array(Waiting, { description: 'moves that wait for their notice' }),
  }),
});
export const previewPlaces = endpoint('POST', '/api/v1/affiliates/:id/places/preview', {
  summary: 'Terms before and after a change of card, group or tags; changes nothing',
  access: managing,
  params: byId('affiliate'),
  body: closed(Places),
  reply: PlacesOut,
});
export const setPlaces = endpoint('PUT', '/api/v1/affiliates/:id/places', {
  summary: 'Change card, group and tags from now on',
  access: managing,
  params: byId('affiliate'),
  body: closed(Places),
  reply: PlacesOut,
  once: true,
});
export const makeStandard = endpoint('POST', '/api/v1/sets/:id/standard', {
  summary: 'Make a card the one that newcomers begin on',
  access: managing,
  params: byId('set'),
  reply: SetOut,
  once: true,
});
