import { sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { templateUses } from '../../../core/recruiting/lists';
import { id, moment, version } from './columns';

export const templates = sqliteTable('templates', {
  id: id<'template'>(),
  use: text('use', { enum: templateUses }).notNull(),
  name: text('name').notNull(),
  subject: text('subject').notNull(),
  body: text('body').notNull(),
  by: text('by').notNull(),
  createdAt: moment('created_at').notNull(),
  removedAt: moment('removed_at'),
  version: version(),
});
