import { integer, text } from 'drizzle-orm/sqlite-core';

// Moments are UTC milliseconds; amounts are minor units. Every table is made STRICT when its migration is generated, and
// those with a key of several columns WITHOUT ROWID.
export const id = () => text('id').primaryKey();
export const moment = (name: string) => integer(name);
export const version = () => integer('version').notNull().default(1);
