import { and, desc, eq, inArray, isNull, like, or } from 'drizzle-orm';
import type { BodyOf, ReplyOf } from '../../../contract/endpoint';
import type {
  createOffer as Create,
  listOffers as List,
  readOffer as ReadPublic,
  readResources as Resources,
} from '../../../contract/recruit/offers';
import { addDays, dayOf } from '../../../core/calendar/zone';
import { formatMoney } from '../../../core/money/amount';
import { categories } from '../../../core/recruiting/kinds';
import { averageEarning, slugOf } from '../../../core/recruiting/offers';
import type { Id } from '../../../core/text/id';
import { fillIn } from '../../../core/text/live';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { perApp } from '../../ground/db/prepared';
import { Problem, refuse } from '../../ground/http/problem';
import { products } from '../../ground/tables/catalogue';
import { entryWords, notices, offers } from '../../ground/tables/offers';
import { difference, record } from '../../registers/access/audit';
import { namesOf } from '../../registers/access/names';
import { stale } from '../../registers/access/stale';
import { logoAddress, pictureAddress } from '../../registers/catalogue/files';
import { productById } from '../../registers/catalogue/store';
import { registryOf, theProgramme } from '../../registers/programme/record';
import { termsInForce } from '../../setup/terms/in-force';
import { filled, liveValues } from '../../setup/terms/live';
import { publicTerms } from '../../setup/terms/public';
import { notForYou } from '../../setup/terms/service';
import { countsOfProduct } from '../../totals/products';
import { listNotices, showNotices } from './notices';

export type OfferRecord = typeof offers.$inferSelect;
const days = 90;
const keptFor = 600_000;
const kept = perApp(() => new Map<string, { until: number; counts: ReturnType<typeof countsOfProduct> }>());

/** Counts of a product since 90 days ago, kept for ten minutes: the public page asks for them at every visit. */
function recentCounts(app: App, product: Id<'product'>): ReturnType<typeof countsOfProduct> {
  const now = app.clock.now();
  const found = kept(app).get(product);
  if (found && found.until > now && found.until - now <= keptFor) return found.counts;
  const counts = countsOfProduct(app, product, addDays(dayOf(now, theProgramme(app).zone), -days));
  kept(app).set(product, { until: now + keptFor, counts });
  return counts;
}

/** What 100 clicks on some products earned in 90 days; null where there is too little to say so. */
export function earningOf(
  app: App,
  ids: readonly Id<'product'>[],
): { amount: number; currency: string } | null {
  const { base } = theProgramme(app);
  const sum = ids
    .map((id) => recentCounts(app, id))
    .reduce(
      (a, b) => ({
        clicks: a.clicks + b.clicks,
        orders: a.orders + b.orders,
        granted: a.granted + b.granted,
      }),
      { clicks: 0, orders: 0, granted: 0 },
    );
  const amount = averageEarning(sum);
  return amount === null ? null : { amount, currency: base };
}

export function offerById(app: App, id: Id<'offer'>, version?: number): OfferRecord {
  const row = app.db
    .select()
    .from(offers)
    .where(and(eq(offers.id, id), isNull(offers.removedAt)))
    .get();
  if (!row) throw new Problem('not-found', 'This offer page does not exist any more');
  if (version !== undefined && row.version !== version)
    throw stale(app, row.id, 'this page', showOffer(app, row));
  return row;
}

export function showOffer(app: App, row: OfferRecord): ReplyOf<typeof List>['rows'][number] {
  const said = app.db
    .select()
    .from(entryWords)
    .where(eq(entryWords.offer, row.id))
    .orderBy(entryWords.at, entryWords.id)
    .all();
  const name = namesOf(
    app,
    said.map((w) => w.by),
  );
  const own = row.products.map((id) => productById(app, id)).filter((p) => p !== undefined);
  const {
    id,
    slug,
    headline,
    about,
    benefits,
    language,
    category,
    live,
    entry,
    entryAt,
    submittedAt,
    fault,
    createdAt,
    version,
  } = row;
  return {
    id,
    slug,
    headline,
    about,
    benefits,
    language,
    products: row.products,
    category,
    live,
    entry,
    entryAt,
    submittedAt,
    fault,
    createdAt,
    version,
    address: `${app.address}/offers/${slug}`,
    reads: filled(app, about),
    names: own.map((p) => p.name),
    rate: [...new Set(own.map((p) => publicTerms(app, p).reward || notForYou))].join(', '),
    epc: earningOf(app, row.products),
    words: said.map((w) => ({
      id: w.id,
      at: w.at,
      from: w.from,
      by: w.from === 'reviewer' ? 'the reviewer' : name(w.by),
      text: w.text,
    })),
  };
}

export function listOffers(app: App): ReplyOf<typeof List> {
  const rows = app.db
    .select()
    .from(offers)
    .where(isNull(offers.removedAt))
    .orderBy(offers.createdAt, offers.id)
    .all();
  return {
    rows: rows.map((r) => showOffer(app, r)),
    categories: [...new Set([...theProgramme(app).categories, ...categories])],
    registry: registryOf(app) !== null,
  };
}

type Fields = BodyOf<typeof Create>;

function check(app: App, input: Fields): void {
  const values = liveValues(app);
  for (const field of ['about', 'headline'] as const) {
    const { unknown } = fillIn(input[field], values);
    if (unknown.length)
      throw refuse(
        field,
        `${unknown.join(', ')} cannot be filled in: known are the rate or price of a product by its code, {rate} and {window}`,
        '{rate WHEEL-1}',
      );
  }
  if (!(categories as readonly string[]).includes(input.category))
    throw refuse('category', `Category: “${input.category.slice(0, 40)}” is not in the list`, categories[0]);
  const known = new Set(
    app.db
      .select({ id: products.id })
      .from(products)
      .where(and(inArray(products.id, input.products), isNull(products.retiredAt)))
      .all()
      .map((p) => p.id),
  );
  if (input.products.some((p) => !known.has(p)))
    throw refuse('products', 'Products: one of them was retired or does not exist');
}

/** An address part that no other page has. */
function freeSlug(app: App, headline: string): string {
  const plain = slugOf(headline);
  const taken = new Set(
    app.db
      .select({ slug: offers.slug })
      .from(offers)
      .where(or(eq(offers.slug, plain), like(offers.slug, `${plain}-%`)))
      .all()
      .map((o) => o.slug),
  );
  if (!taken.has(plain)) return plain;
  for (let n = 2; ; n += 1) if (!taken.has(`${plain}-${n}`)) return `${plain}-${n}`;
}

const trimmed = ({ headline, about, benefits, language, products: ids, category }: Fields) => ({
  headline: headline.trim(),
  about: about.trim(),
  benefits: benefits.map((b) => b.trim()),
  language,
  products: [...new Set(ids)],
  category,
});

export function createOffer(app: App, actor: Actor, input: Fields) {
  check(app, input);
  const id = newId('offer');
  app.db
    .insert(offers)
    .values({
      id,
      slug: freeSlug(app, input.headline),
      ...trimmed(input),
      createdAt: app.clock.now(),
      by: actor.id,
    })
    .run();
  record(app, actor, 'offer-created', {
    subject: id,
    before: null,
    after: { headline: input.headline.trim() },
  });
  return showOffer(app, offerById(app, id));
}

export function editOffer(app: App, actor: Actor, id: Id<'offer'>, input: Fields & { version: number }) {
  const row = offerById(app, id, input.version);
  check(app, input);
  const fields = trimmed(input);
  const change = difference(row, fields);
  app.db
    .update(offers)
    .set({ ...fields, version: row.version + 1 })
    .where(eq(offers.id, id))
    .run();
  if (Object.keys(change.after).length)
    record(app, actor, 'offer-changed', { subject: id, before: change.before, after: change.after });
  return showOffer(app, offerById(app, id));
}

export function openOffer(
  app: App,
  actor: Actor,
  id: Id<'offer'>,
  { on, version }: { on: boolean; version: number },
) {
  const row = offerById(app, id, version);
  app.db
    .update(offers)
    .set({ live: on, version: row.version + 1 })
    .where(eq(offers.id, id))
    .run();
  record(app, actor, on ? 'offer-opened' : 'offer-closed', {
    subject: id,
    before: null,
    after: { headline: row.headline },
  });
  return showOffer(app, offerById(app, id));
}

export function removeOffer(app: App, actor: Actor, id: Id<'offer'>): null {
  const row = offerById(app, id);
  app.db.update(offers).set({ removedAt: app.clock.now(), live: false }).where(eq(offers.id, id)).run();
  record(app, actor, 'offer-removed', { subject: id, before: { headline: row.headline }, after: null });
  return null;
}

/** An offer page as everybody reads it, with what is paid at this moment. @param staff true: a page that is not open yet is shown too */
export function readOffer(app: App, slug: string, staff: boolean): ReplyOf<typeof ReadPublic> {
  const row = app.db
    .select()
    .from(offers)
    .where(and(eq(offers.slug, slug), isNull(offers.removedAt)))
    .get();
  if (!row || (!row.live && !staff))
    throw new Problem('not-found', 'There is no offer at this address, or it is not open any more');
  const { name, contact } = theProgramme(app);
  const own = row.products
    .map((id) => productById(app, id))
    .filter((p) => p !== undefined && p.state === 'live') as NonNullable<ReturnType<typeof productById>>[];
  const news = app.db
    .select()
    .from(notices)
    .where(
      and(isNull(notices.removedAt), or(isNull(notices.product), inArray(notices.product, row.products))),
    )
    .orderBy(desc(notices.at))
    .limit(6)
    .all();
  return {
    programme: name,
    contact,
    logo: logoAddress(app),
    headline: filled(app, row.headline),
    about: filled(app, row.about),
    benefits: row.benefits.map((b) => filled(app, b)),
    language: row.language,
    live: row.live,
    notices: showNotices(app, news),
    products: own.map((p) => ({
      code: p.code,
      name: p.name,
      description: p.description,
      ...publicTerms(app, p),
      picture: pictureAddress(app, p),
      epc: earningOf(app, [p.id]),
    })),
  };
}

type Terms = ReturnType<typeof termsInForce>[number];

/** A product as its resources begin: what it is and costs, what it earns, the affiliate's link. */
function resourceOf(app: App, { product, reward, renewals, link, price, currency }: Terms) {
  const row = productById(app, product);
  if (!row || link === null) return null;
  const { id, code, name, description } = row;
  return {
    ...{ id, code, name, description, reward, renewals, link },
    price: price === null ? '' : formatMoney({ amount: price, currency }),
    picture: pictureAddress(app, row),
  };
}

/** What an affiliate works with: what it promotes, news and notes, and the offer pages with its own links. */
export function readResources(app: App, affiliate: Id<'affiliate'>): ReplyOf<typeof Resources> {
  const own = new Map(termsInForce(app, affiliate).map((t) => [t.product, t]));
  const open = app.db
    .select()
    .from(offers)
    .where(and(isNull(offers.removedAt), eq(offers.live, true)))
    .orderBy(offers.createdAt)
    .all();
  const listed = listNotices(app, { affiliate }).rows.filter(
    (n) => n.product === null || own.has(n.product.id),
  );
  return {
    notices: listed.slice(0, 30),
    products: [...own.values()].flatMap((terms) => resourceOf(app, terms) ?? []),
    offers: open.map((o) => ({
      headline: filled(app, o.headline, { affiliate }),
      address: `${app.address}/offers/${o.slug}`,
      products: o.products.flatMap((id) => {
        const p = productById(app, id);
        return p
          ? [
              {
                name: p.name,
                reward: own.get(id)?.reward ?? notForYou,
                renewals: own.get(id)?.renewals ?? '',
                link: own.get(id)?.link ?? null,
                picture: pictureAddress(app, p),
              },
            ]
          : [];
      }),
    })),
  };
}
