import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { messageStates } from '../../../core/recruiting/lists';
import type { Id } from '../../../core/text/id';
import { id, moment } from './columns';

/** A link of a message: to set somebody's password, to accept a version of the policy, to answer a question. */
export type MessageLink =
  | { kind: 'staff' | 'affiliate'; person: Id<'staff' | 'affiliate'>; use: 'welcome' | 'forgotten' }
  | { use: 'accept'; person: Id<'affiliate'>; policy: Id<'policy'> }
  | { use: 'answer'; question: Id<'question'> };

/** Outbox and record of every message. */
export const messages = sqliteTable(
  'messages',
  {
    id: id<'message'>(),
    at: moment('at').notNull(),
    to: text('to_address').notNull(),
    affiliate: text('affiliate').$type<Id<'affiliate'>>(),
    kind: text('kind').notNull(),
    subject: text('subject').notNull(),
    body: text('body').notNull(),
    state: text('state', { enum: messageStates }).notNull().default('waiting'),
    fault: text('fault'),
    /** machine time from which it may leave: the time for taking a decision back */
    leavesAt: moment('leaves_at').notNull(),
    subjectOf: text('subject_of'),
    /** where in the body a link goes when it leaves; null = nowhere. A number, so that no word of the body can ask for one, and nobody who reads what was written has it */
    linkAt: integer('link_at'),
    /** what the link is for, where that is not the welcome of the affiliate it is sent to */
    link: text('link', { mode: 'json' }).$type<MessageLink | null>(),
    /** tries that failed for now, and the machine time of the first */
    tries: integer('tries').notNull().default(0),
    triedAt: moment('tried_at'),
  },
  (t) => [
    index('messages_state').on(t.state, t.leavesAt),
    index('messages_subject').on(t.subjectOf),
    index('messages_to').on(t.to, t.at),
    index('messages_affiliate').on(t.affiliate, t.at),
  ],
);
