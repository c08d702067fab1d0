import { customType, integer, text } from 'drizzle-orm/sqlite-core';
import type { Id, IdKind } from '../../../core/text/id';
import { keptFrom, keptText, type Kept } from '../../../core/text/kept';

// Moments are UTC milliseconds; amounts are minor units. Every table is made STRICT when its migration is generated, and
// those with a key of several columns WITHOUT ROWID.
export const id = <K extends IdKind>() => text('id').$type<Id<K>>().primaryKey();
export const moment = (name: string) => integer(name);
export const version = () => integer('version').notNull().default(1);

/** A reason by its code with its values; rows of before hold words. */
export const reason = <R extends { code: string }>(name: string) =>
  customType<{ data: Kept<R>; driverData: string }>({
    dataType: () => 'text',
    toDriver: keptText,
    fromDriver: keptFrom<R>,
  })(name);
