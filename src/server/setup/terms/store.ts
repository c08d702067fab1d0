import { isNull } from 'drizzle-orm';
import { buildBook, type Book } from '../../../core/terms/book';
import type { TermsData } from '../../../core/terms/draft';
import { buildRoll, type Membership, type Roll } from '../../../core/terms/members';
import type { Rate } from '../../../core/terms/rate';
import { cached } from '../../ground/cache';
import type { App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import { locks, pauses, rates, sets, tagOrders } from '../../ground/tables/terms';

export type RateRecord = typeof rates.$inferSelect;
export type SetRecord = typeof sets.$inferSelect;

/** Terms as read and as indexed, kept until they change. */
export interface Terms {
  data: TermsData;
  book: Book;
  roll: Roll;
}

export function asRate(row: RateRecord): Rate {
  const { id, mode, rung, who, what, event, payments, reward, cap, label, from, until } = row;
  return { id, mode, rung, who, what, event, payments: payments ?? null, reward, cap, label, from, until };
}

// of a large programme some fifty thousand, read whenever terms change: as they are wanted, without a query builder between
const everyMembership = perApp((app) =>
  app.sqlite.prepare<[], Membership>(
    'SELECT affiliate, "of", set_id AS id, valid_from AS "from", valid_until AS until FROM memberships',
  ),
);

function readTerms(app: App): TermsData {
  const standard = app.db
    .select()
    .from(sets)
    .where(isNull(sets.removedAt))
    .all()
    .find((s) => s.of === 'card' && s.standard);
  return {
    rates: app.db.select().from(rates).all().map(asRate),
    members: everyMembership(app).all(),
    pauses: app.db
      .select()
      .from(pauses)
      .all()
      .map(({ set, from, until }) => ({ group: set, from, until })),
    locks: app.db
      .select()
      .from(locks)
      .all()
      .map(({ product, event, from, until }) => ({ product, event, from, until })),
    tagOrders: app.db
      .select()
      .from(tagOrders)
      .all()
      .map(({ from, tags }) => ({ from, tags })),
    defaultCard: standard?.id ?? null,
  };
}

/** Indexes terms: the same for those in force and for those of a draft. */
export function indexed(data: TermsData): Terms {
  return { data, book: buildBook(data.rates), roll: buildRoll(data) };
}

/** The same for terms that were made from others: what did not change of them is not indexed anew. */
export function indexedFrom(from: Terms, data: TermsData): Terms {
  const { members, pauses, locks, tagOrders, defaultCard } = from.data;
  const isSame =
    data.members === members &&
    data.pauses === pauses &&
    data.locks === locks &&
    data.tagOrders === tagOrders &&
    data.defaultCard === defaultCard;
  return {
    data,
    book: data.rates === from.data.rates ? from.book : buildBook(data.rates),
    roll: isSame ? from.roll : buildRoll(data),
  };
}

/** Every rate, membership, pause and lock, past and coming. */
export const theTerms = cached('terms', (app): Terms => indexed(readTerms(app)));

/** Cards, groups and tags that were not removed, by name. */
export function setsInUse(app: App): SetRecord[] {
  return app.db.select().from(sets).where(isNull(sets.removedAt)).orderBy(sets.of, sets.name).all();
}
