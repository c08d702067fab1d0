import { eq } from 'drizzle-orm';
import { endAt, inForce } from '../../../core/calendar/span';
import { winner } from '../../../core/terms/book';
import { cellOf } from '../../../core/terms/cell';
import { faultsOf, sameSlot, tieWith } from '../../../core/terms/conflict';
import { isLocked, termsAt } from '../../../core/terms/members';
import {
  describeRate,
  type AffiliateTerms,
  type Event,
  type Rate,
  type Reward,
  type Rung,
  type What,
} from '../../../core/terms/rate';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { invalid, Problem } from '../../ground/http/problem';
import { rates } from '../../ground/tables/terms';
import { record } from '../../registers/access/audit';
import { theProgramme } from '../../registers/programme/record';
import { refuseCut } from './cuts';
import { theTerms } from './store';

/** What decides an affiliate's rates as of a moment. */
export function termsOf(app: App, affiliate: Id<'affiliate'>, at: number): AffiliateTerms {
  return termsAt(theTerms(app).roll, affiliate, at);
}

/** True if a product keeps its own terms for an event at a moment. */
export function lockedAt(app: App, product: Id<'product'>, event: Event, at: number): boolean {
  return isLocked(theTerms(app).roll, product, event, at);
}

interface Slot {
  rung: Rung;
  what: What;
  label: string;
  event: Event;
}

export function productSlot(product: Id<'product'>, event: Event = 'sale'): Slot {
  return { rung: 'product', what: { type: 'product', product }, label: 'Product', event };
}
export const programmeSlot: Slot = {
  rung: 'programme',
  what: { type: 'everything' },
  label: 'Programme',
  event: 'sale',
};

function slotRate(slot: Slot, reward: Reward, from: number): Rate {
  return {
    id: newId('rate'),
    mode: 'base',
    rung: slot.rung,
    who: null,
    what: slot.what,
    event: slot.event,
    payments: null,
    reward,
    cap: null,
    from,
    until: null,
    label: slot.label,
  };
}

/** The rate that stands in a slot for all payments at a moment, or null. */
function standing(app: App, slot: Slot, at: number): Rate | null {
  const probe = slotRate(slot, { type: 'percent', ppm: 0 }, at);
  return (
    theTerms(app)
      .data.rates.filter((r) => r.payments === null && inForce(r, at) && sameSlot(r, probe))
      .sort((a, b) => b.from - a.from)[0] ?? null
  );
}

/** The reward in force in a slot, or null. */
export function rewardIn(app: App, slot: Slot): Reward | null {
  return standing(app, slot, app.clock.now())?.reward ?? null;
}

/** Writes a rate. @throws Problem `invalid` for one that cannot stand, `conflict` naming the one it would tie with */
export function addRate(app: App, actor: Actor, rate: Rate, draft: Id<'draft'> | null = null): void {
  const faults = faultsOf(rate);
  if (faults.length)
    throw invalid(faults.map((f) => ({ pointer: `/${f.field}`, detail: f.detail, example: f.example })));
  const tie = tieWith(rate, theTerms(app).data.rates);
  if (tie)
    throw new Problem(
      'conflict',
      `“${rate.label}” would tie with “${tie.label}”: both cover the same for the same people from the same moment, so nothing would decide between them`,
    );
  const product = rate.what.type === 'product' ? rate.what.product : null;
  app.db
    .insert(rates)
    .values({
      ...rate,
      product,
      createdAt: app.clock.now(),
      createdBy: actor.id,
      draft,
      untilSaved: rate.until,
    })
    .run();
  touch(app, 'terms');
}

/** Ends a rate at a moment, never before it began nor after its own end. */
export function endRate(app: App, actor: Actor, id: Id<'rate'>, at: number): void {
  const row = app.db.select().from(rates).where(eq(rates.id, id)).get();
  if (!row) throw new Problem('not-found', 'This rate does not exist');
  app.db
    .update(rates)
    .set({ until: endAt(row, at), endedAt: app.clock.now(), endedBy: actor.id })
    .where(eq(rates.id, id))
    .run();
  touch(app, 'terms');
}

/** @throws Problem `invalid` where setting a slot at once would break the notice that the programme promises */
function refuseCutAtOnce(app: App, slot: Slot, present: Rate | null | undefined, draft: Rate | null): void {
  const now = app.clock.now();
  const { data } = theTerms(app);
  const others = data.rates.map((r) => (r.id === present?.id ? { ...r, until: endAt(r, now) } : r));
  const field = slot.rung === 'programme' ? 'rate' : slot.event === 'renewal' ? 'renewalReward' : 'reward';
  refuseCut(
    app,
    { ...data, rates: [...others, ...(draft ? [draft] : [])] },
    field,
    'this form changes rates at once; plan it in the rate book, with a day on which it begins',
  );
}

/** The event of a slot where it is not the usual one. */
const eventIn = ({ event }: Slot) => (event === 'sale' ? {} : { event });

/** Begins a rate now; the first of its slot holds for all time before it too. */
function beginRate(app: App, actor: Actor, draft: Rate): void {
  const first = !theTerms(app).data.rates.some((r) => sameSlot(r, draft));
  addRate(app, actor, { ...draft, from: first ? 0 : draft.from });
}

/**
 * Sets what a slot pays from now on: the rate in force ends, the new one begins. The first rate of a slot
 * holds for all time before it too, since nothing else was promised.
 * @param promised false where nobody has been told of it yet: a draft product's reward may fall at once
 * @throws Problem `invalid` where a cut would break the notice that the programme promises
 */
export function setReward(
  app: App,
  actor: Actor,
  slot: Slot,
  { reward, promised = true }: { reward: Reward | null; promised?: boolean | undefined },
): void {
  const now = app.clock.now();
  const present = standing(app, slot, now);
  const before = present?.reward ?? null;
  if (JSON.stringify(before) === JSON.stringify(reward)) return;
  const cap = present?.cap ?? null;
  const draft = reward && { ...slotRate(slot, reward, now), cap };
  if (promised) refuseCutAtOnce(app, slot, present, draft);
  if (present) endRate(app, actor, present.id, now);
  if (draft) beginRate(app, actor, draft);
  record(app, actor, 'rate-changed', {
    subject: slot.what.type === 'product' ? slot.what.product : 'programme',
    before: { reward: before },
    after: { reward, from: now, ...eventIn(slot) },
  });
}

/** What the programme pays for a sale where nothing narrower is set, in words. */
export function rateOfProgramme(app: App): string {
  const reward = rewardIn(app, programmeSlot);
  return reward
    ? describeRate({ reward, event: 'sale', payments: null, cap: null, mode: 'base' }, theProgramme(app).base)
    : 'no commission';
}

/** What a kind of product pays for in the first place. */
export function firstEvent(kind: string): Event {
  return kind === 'free' ? 'lead' : 'sale';
}

/** The rate of the ladder that decides what an affiliate (or anybody) earns on a first sale or lead of a product now: its reward, and its rung. */
export function effective(
  app: App,
  affiliate: Id<'affiliate'>,
  product: { id: Id<'product'>; kind: string },
): { reward: Reward | null; rung: string } {
  const at = app.clock.now();
  const event = firstEvent(product.kind);
  const rate = winner(
    theTerms(app).book,
    termsOf(app, affiliate, at),
    { product: product.id, kind: product.kind, locked: lockedAt(app, product.id, event, at) },
    {
      ...{ event, at, payment: 1 },
      rows: [
        { line: { product: product.id, kind: product.kind, approved: true }, base: Number.MAX_SAFE_INTEGER },
      ],
    },
  );
  return {
    reward: rate?.reward ?? null,
    rung: rate?.rung ?? '',
  };
}

/** What somebody reads who earns nothing on a product now: not let in for it, or nobody may promote it. */
export const notForYou = 'not for you now';

/** The rung that decides what somebody earns on a product now, whether the product keeps its own terms, and whether an uplift raises it. */
export function standingOf(
  app: App,
  affiliate: Id<'affiliate'>,
  product: { id: Id<'product'>; kind: string },
): { rung: Rung | null; locked: boolean; raised: boolean } {
  const { base } = theProgramme(app);
  const at = app.clock.now();
  const { book, roll } = theTerms(app);
  const { rate, locked, uplift } = cellOf(book, roll, {
    column: { of: 'affiliate', id: affiliate, terms: termsOf(app, affiliate, at) },
    row: {
      what: { type: 'product', product: product.id },
      sold: { product: product.id, kind: product.kind },
    },
    ...{ event: firstEvent(product.kind), payment: 1, at, currency: base },
  });
  return { rung: rate?.rung ?? null, locked, raised: uplift !== null };
}
