import { and, eq, isNotNull, isNull } from 'drizzle-orm';
import type { ReplyOf } from '../../../contract/endpoint';
import type { compareOffer as Compare } from '../../../contract/recruit/offers';
import { mulDiv } from '../../../core/money/rounding';
import { placeAmong } from '../../../core/recruiting/offers';
import { anybody } from '../../../core/terms/rate';
import type { Id } from '../../../core/text/id';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem } from '../../ground/http/problem';
import type { RegistryEvent } from '../../ground/ports';
import { staff } from '../../ground/tables/access';
import { entryWords, offers } from '../../ground/tables/offers';
import { record } from '../../registers/access/audit';
import { priceNow } from '../../registers/catalogue/price';
import { productById } from '../../registers/catalogue/store';
import { queue } from '../../registers/outbox/queue';
import { registryOf, theProgramme } from '../../registers/programme/record';
import { filled } from '../../setup/terms/live';
import { earnedNow } from '../../setup/terms/promised';
import { earningOf, offerById, showOffer, type OfferRecord } from './service';

/** Submits an offer to the catalogue, for the first time or after it was refused or changed. */
export function submitOffer(app: App, actor: Actor, id: Id<'offer'>) {
  const row = offerById(app, id);
  if (!registryOf(app))
    throw new Problem('unavailable', 'No registry is connected, so there is no catalogue to list this in');
  if (!row.live) throw new Problem('conflict', 'Open the page first: the reviewer looks at it');
  if (row.entry === 'submitted' || row.entry === 'question')
    throw new Problem(
      'conflict',
      `This entry is with the reviewer already${row.entry === 'question' ? ', who has asked something' : ''}`,
    );
  const now = app.clock.now();
  app.db
    .update(offers)
    .set({
      entry: 'submitted',
      entryAt: now,
      submittedAt: now,
      fault: 'waits for the registry',
      version: row.version + 1,
    })
    .where(eq(offers.id, id))
    .run();
  record(app, actor, 'entry-submitted', {
    subject: id,
    before: { entry: row.entry },
    after: { entry: 'submitted' },
  });
  return showOffer(app, offerById(app, id));
}

export function answerReviewer(app: App, actor: Actor, id: Id<'offer'>, text: string) {
  const row = offerById(app, id);
  if (row.entry !== 'question') throw new Problem('conflict', 'The reviewer has no question open');
  const now = app.clock.now();
  app.db
    .insert(entryWords)
    .values({ id: newId('entryWord'), offer: id, at: now, from: 'merchant', by: actor.id, text: text.trim() })
    .run();
  app.db
    .update(offers)
    .set({ entry: 'submitted', entryAt: now, fault: 'waits for the registry', version: row.version + 1 })
    .where(eq(offers.id, id))
    .run();
  record(app, actor, 'reviewer-answered', {
    subject: id,
    before: null,
    after: { text: text.trim().slice(0, 200) },
  });
  return showOffer(app, offerById(app, id));
}

/** Hands to the registry what waits for it: entries and answers. What fails is tried again. */
export async function sendEntries(app: App): Promise<number> {
  const port = registryOf(app);
  if (!port) return 0;
  let sent = 0;
  for (const row of app.db
    .select()
    .from(offers)
    .where(and(isNotNull(offers.fault), isNull(offers.removedAt)))
    .all()) {
    try {
      const last = app.db
        .select()
        .from(entryWords)
        .where(eq(entryWords.offer, row.id))
        .orderBy(entryWords.at, entryWords.id)
        .all()
        .at(-1);
      if (last?.from === 'merchant' && last.at >= (row.submittedAt ?? 0))
        await port.answer(row.id, { id: last.id, text: last.text, at: last.at });
      else
        await port.submit({
          id: row.id,
          programme: theProgramme(app).name,
          category: row.category,
          headline: filled(app, row.headline),
          about: filled(app, row.about),
          address: `${app.address}/offers/${row.slug}`,
          rate: showOffer(app, row).rate,
          at: row.submittedAt ?? app.clock.now(),
        });
      app.db.update(offers).set({ fault: null }).where(eq(offers.id, row.id)).run();
      sent += 1;
    } catch (fault) {
      app.db
        .update(offers)
        .set({ fault: fault instanceof Error ? fault.message.slice(0, 200) : 'refused' })
        .where(eq(offers.id, row.id))
        .run();
    }
  }
  return sent;
}

const subjects = {
  question: 'The catalogue asks about',
  listed: 'Listed in the catalogue:',
  refused: 'Not listed in the catalogue:',
} as const;

/** What the reviewer said: kept with the entry, and told to those who manage the programme. */
export function takeEntryEvent(app: App, event: Extract<RegistryEvent, { kind: 'entry' }>): void {
  const row = app.db.select().from(offers).where(eq(offers.id, event.entry)).get();
  if (!row || row.removedAt !== null) return;
  app.db
    .insert(entryWords)
    .values({
      id: newId('entryWord'),
      offer: row.id,
      at: event.at,
      from: 'reviewer',
      by: 'registry',
      text: event.text,
    })
    .run();
  app.db
    .update(offers)
    .set({ entry: event.state, entryAt: event.at, version: row.version + 1 })
    .where(eq(offers.id, row.id))
    .run();
  record(app, { kind: 'open', id: 'registry' }, `entry-${event.state}`, {
    subject: row.id,
    before: { entry: row.entry },
    after: { entry: event.state },
  });
  for (const person of app.db
    .select()
    .from(staff)
    .where(and(eq(staff.active, true)))
    .all()
    .filter((p) => p.role === 'owner' || p.role === 'manager')) {
    queue(app, {
      to: person.email,
      affiliate: null,
      kind: 'entry',
      subject: `${subjects[event.state]} ${row.headline}`,
      body: `Hello ${person.name},\n\n${event.text}\n\n${app.address}/offers?id=${row.id}`,
    });
  }
}

/** The highest share of a sale that an offer's products pay at their present price, parts per million; null where nothing is paid. */
function rateOf(app: App, row: OfferRecord): number | null {
  const { base } = theProgramme(app);
  const rates = row.products
    .map((id) => productById(app, id))
    .flatMap((p) => {
      const price = p && priceNow(p).presentPrice;
      if (!p || !price || price.currency !== base) return [];
      return price.amount > 0
        ? [mulDiv(earnedNow(app, anybody, p, { price: price.amount }), 1_000_000, price.amount)]
        : [];
    });
  return rates.length ? Math.max(...rates) : null;
}

/** An offer among the other entries of its category. What the registry cannot say now is said. */
export async function compareOffer(app: App, id: Id<'offer'>): Promise<ReplyOf<typeof Compare>> {
  const row = offerById(app, id);
  const own = {
    programme: theProgramme(app).name,
    headline: filled(app, row.headline),
    ratePpm: rateOf(app, row),
    epc: earningOf(app, row.products),
    own: true,
  };
  try {
    const others = (await registryOf(app)?.others(row.category)) ?? [];
    const rows = [
      own,
      ...others.map((o) => ({
        programme: o.programme,
        headline: o.headline,
        ratePpm: o.ratePpm as number | null,
        epc: { amount: o.epc, currency: 'EUR' },
        own: false,
      })),
    ].sort((a, b) => (b.epc?.amount ?? -1) - (a.epc?.amount ?? -1));
    const comparable = theProgramme(app).base === 'EUR' ? (own.epc?.amount ?? null) : null;
    return {
      rows,
      rate: placeAmong(
        own.ratePpm,
        others.map((o) => o.ratePpm),
      ),
      earning: placeAmong(
        comparable,
        others.map((o) => o.epc),
      ),
      fault: registryOf(app) ? null : 'No registry is connected.',
    };
  } catch (fault) {
    return {
      rows: [own],
      rate: null,
      earning: null,
      fault: fault instanceof Error ? fault.message : 'The registry failed',
    };
  }
}

/** Entries about which the reviewer waits for an answer. */
export function offersAsked(app: App): { id: string; headline: string }[] {
  return app.db
    .select({ id: offers.id, headline: offers.headline })
    .from(offers)
    .where(and(eq(offers.entry, 'question'), isNull(offers.removedAt)))
    .all();
}
