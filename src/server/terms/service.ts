import { and, eq, isNull } from 'drizzle-orm';
import type { Book } from '../../core/terms/book';
import { buildBook, winner } from '../../core/terms/book';
import type { AffiliateTerms, Rate, Reward, What } from '../../core/terms/rate';
import { describeReward, tieWith } from '../../core/terms/rate';
import type { Actor, App } from '../context';
import { changed } from '../context';
import { newId } from '../db/ids';
import { rates } from '../db/schema';
import { Problem } from '../http/problem';
import { record } from '../staff/audit';

function asRate(row: typeof rates.$inferSelect): Rate {
  const { id, rung, who, what, event, reward, label, from, until } = row;
  return { id, rung, who, what, event, reward, label, from, until };
}

/** The rate book, indexed once and kept until terms change. */
export function theBook(app: App): Book {
  app.kept.book ??= buildBook(app.db.select().from(rates).all().map(asRate));
  return app.kept.book;
}

/** What decides an affiliate's rates. Cards, groups and tags have no members yet, so only the person counts. */
export function termsOf(affiliate: string): AffiliateTerms {
  return { affiliate, card: null, group: null, tags: [] };
}

interface Slot {
  rung: 'product' | 'programme';
  what: What;
  label: string;
}

export function productSlot(product: string): Slot {
  return { rung: 'product', what: { type: 'product', product }, label: 'Product' };
}
export const programmeSlot: Slot = { rung: 'programme', what: { type: 'everything' }, label: 'Programme' };

function rowInSlot(app: App, slot: Slot) {
  const product = slot.what.type === 'product' ? slot.what.product : null;
  return app.db.select().from(rates).where(and(
    eq(rates.rung, slot.rung), isNull(rates.until), eq(rates.event, 'sale'), product === null ? isNull(rates.product) : eq(rates.product, product),
  )).get();
}

/** The reward in force in a slot, or null. */
export function rewardIn(app: App, slot: Slot): Reward | null {
  return rowInSlot(app, slot)?.reward ?? null;
}

/**
 * Sets what a slot pays from now on: the rate in force ends, the new one begins. The first rate of a slot
 * holds for all time before it too, since nothing else was promised.
 */
export function setReward(app: App, actor: Actor, slot: Slot, reward: Reward | null): void {
  const present = rowInSlot(app, slot);
  if (JSON.stringify(present?.reward ?? null) === JSON.stringify(reward)) return;
  const now = app.clock.now();
  const product = slot.what.type === 'product' ? slot.what.product : null;
  if (present) app.db.update(rates).set({ until: Math.max(now, present.from) }).where(eq(rates.id, present.id)).run();
  if (reward) {
    const earlier = app.db.select().from(rates).where(and(eq(rates.rung, slot.rung), product === null ? isNull(rates.product) : eq(rates.product, product))).all();
    const draft: Rate = { id: newId('rate'), rung: slot.rung, who: null, what: slot.what, event: 'sale', reward, label: slot.label, from: earlier.length ? now : 0, until: null };
    const tie = tieWith(draft, earlier.map(asRate));
    if (tie) throw new Problem('conflict', `This rate would tie with “${tie.label}” that begins at the same moment`);
    app.db.insert(rates).values({ ...draft, product, createdAt: now }).run();
  }
  record(app, actor, 'rate-changed', product ?? 'programme', { reward: present?.reward ?? null }, { reward, from: now });
  changed(app);
}

/** What an affiliate (or anybody) earns on a product now, in words, and on which rung. */
export function effective(app: App, affiliate: string, product: { id: string; kind: string }, base: string): { reward: Reward | null; text: string; rung: string } {
  const rate = winner(theBook(app), termsOf(affiliate), { product: product.id, kind: product.kind }, 'sale', app.clock.now());
  return { reward: rate?.reward ?? null, text: rate ? describeReward(rate.reward, base) : 'no commission', rung: rate?.rung ?? '' };
}
