import { sql } from 'drizzle-orm';
import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { actorKinds, roles } from '../../../core/access/lists';
import type { Id } from '../../../core/text/id';
import { id, moment, version } from './columns';

export const staff = sqliteTable('staff', {
  id: id<'staff'>(),
  name: text('name').notNull(),
  email: text('email').notNull().unique(),
  role: text('role', { enum: roles }).notNull(),
  password: text('password').notNull(),
  active: integer('active', { mode: 'boolean' }).notNull().default(true),
  createdAt: moment('created_at').notNull(),
  version: version(),
});

export const sessions = sqliteTable(
  'sessions',
  {
    tokenHash: text('token_hash').primaryKey(),
    kind: text('kind', { enum: actorKinds }).notNull(),
    person: text('person').$type<Id<'staff' | 'affiliate'>>().notNull(),
    createdAt: moment('created_at').notNull(),
    seenAt: moment('seen_at').notNull(),
  },
  (t) => [index('sessions_person').on(t.person)],
);

/** One-time links to set a password, of affiliates and of staff. All of a person's die with the first that is used. */
export const invitations = sqliteTable(
  'invitations',
  {
    tokenHash: text('token_hash').primaryKey(),
    person: text('affiliate').$type<Id<'staff' | 'affiliate'>>().notNull(),
    kind: text('kind', { enum: actorKinds }).notNull().default('affiliate'),
    createdAt: moment('created_at').notNull(),
    /** machine time */ until: moment('until'),
    usedAt: moment('used_at'),
  },
  (t) => [index('invitations_person').on(t.kind, t.person)],
);

export const audit = sqliteTable(
  'audit',
  {
    id: id<'audit'>(),
    at: moment('at').notNull(),
    by: text('by').notNull(),
    action: text('action').notNull(),
    subject: text('subject').notNull(),
    before: text('before', { mode: 'json' }),
    after: text('after', { mode: 'json' }),
  },
  (t) => [
    index('audit_subject').on(t.subject, t.at),
    index('audit_at').on(t.at, t.id),
    index('audit_affiliate').on(sql`json_extract(${t.after}, '$.affiliate')`, t.at),
  ],
);
