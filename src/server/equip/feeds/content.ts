import { and, eq, isNull } from 'drizzle-orm';
import { formatEnd } from '../../../core/calendar/format';
import { givesWords } from '../../../core/material/coupon';
import { jsonFeed, type Feed, type FeedItem } from '../../../core/material/feed';
import { toDecimal } from '../../../core/money/amount';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { toCsv } from '../../ground/http/csv';
import { offers } from '../../ground/tables/offers';
import { pictureAddress } from '../../registers/catalogue/files';
import { productById } from '../../registers/catalogue/store';
import { linkAddress, linkOf } from '../../registers/people/links';
import { theProgramme } from '../../registers/programme/record';
import { termsInForce } from '../../setup/terms/in-force';
import { filled } from '../../setup/terms/live';
import { couponsFor } from '../links/own-coupons';
import { rss } from './rss';

export type FeedName = 'coupons' | 'products' | 'offers';
export type FeedForm = 'rss' | 'json' | 'csv';

/** A feed in its form, with its media type. */
export interface Written {
  type: string;
  text: string;
}

interface Asked {
  name: FeedName;
  form: FeedForm;
  /** null: everybody */
  affiliate: Id<'affiliate'> | null;
  self: string;
}

function couponItems(app: App, affiliate: Id<'affiliate'>): FeedItem[] {
  const { base, zone } = theProgramme(app);
  return couponsFor(app, affiliate).map((row) => {
    const code = linkOf(app, affiliate, { coupon: row.id });
    const gives = givesWords(row, base);
    const until = row.until === null ? '' : `Until ${formatEnd(row.until, zone)}.`;
    return {
      id: row.id,
      title: `${row.code}: ${gives}`,
      url: code === null ? `${app.address}/portal/creatives` : linkAddress(app, code),
      text: [
        row.terms,
        until,
        row.applied ? '' : 'Buyers type it at the checkout.',
        row.shop === 'seen' ? '' : 'Not seen working in the shop yet: try it first.',
      ]
        .filter(Boolean)
        .join(' '),
      at: Math.max(row.createdAt, row.from ?? 0),
      extra: { code: row.code, ...(row.until === null ? {} : { until: new Date(row.until).toISOString() }) },
    };
  });
}

interface ProductLine {
  id: string;
  code: string;
  name: string;
  about: string;
  price: string;
  currency: string;
  earns: string;
  link: string;
  picture: string;
  at: number;
}

/** What an affiliate promotes, with its own link and what it earns. */
function productLines(app: App, affiliate: Id<'affiliate'>): ProductLine[] {
  return termsInForce(app, affiliate).flatMap((t) => {
    const product = productById(app, t.product);
    if (!product || t.link === null) return [];
    return [
      {
        id: product.id,
        code: t.code,
        name: t.name,
        about: product.description,
        price: t.price === null ? '' : toDecimal(t.price, t.currency),
        currency: t.price === null ? '' : t.currency,
        earns: t.renewals ? `${t.reward}, renewals ${t.renewals}` : t.reward,
        link: t.link,
        picture: app.address + pictureAddress(app, product),
        at: product.createdAt,
      },
    ];
  });
}

const productItems = (lines: readonly ProductLine[]): FeedItem[] =>
  lines.map(({ id, code, name, about, price, currency, earns, link, picture, at }) => ({
    ...{ id, at, picture },
    title: price ? `${name}, ${price} ${currency}` : name,
    url: link,
    text: `${about ? `${about} ` : ''}You earn ${earns}.`,
    extra: { code, price, currency, earns },
  }));

const productColumns = ['code', 'name', 'description', 'price', 'currency', 'earns', 'link', 'picture'];

const productsCsv = (lines: readonly ProductLine[]): string =>
  toCsv(
    productColumns,
    lines.map((p) => [p.code, p.name, p.about, p.price, p.currency, p.earns, p.link, p.picture]),
  );

function offerItems(app: App): FeedItem[] {
  return app.db
    .select()
    .from(offers)
    .where(and(eq(offers.live, true), isNull(offers.removedAt)))
    .orderBy(offers.createdAt)
    .all()
    .map((row) => ({
      id: row.id,
      title: filled(app, row.headline),
      url: `${app.address}/offers/${row.slug}`,
      text: filled(app, row.about),
      at: row.createdAt,
    }));
}

const titles: Record<FeedName, string> = {
  coupons: 'coupons',
  products: 'products',
  offers: 'offers to affiliates',
};

function written(feed: Feed, form: FeedForm): Written {
  return form === 'rss'
    ? { type: 'application/rss+xml; charset=utf-8', text: rss(feed) }
    : { type: 'application/feed+json; charset=utf-8', text: JSON.stringify(jsonFeed(feed)) };
}

/** A feed as it reads now. */
export function writeFeed(app: App, { name, form, affiliate, self }: Asked): Written {
  const lines = name === 'products' && affiliate ? productLines(app, affiliate) : [];
  if (form === 'csv') return { type: 'text/csv; charset=utf-8', text: productsCsv(lines) };
  const items: Record<FeedName, () => FeedItem[]> = {
    coupons: () => (affiliate ? couponItems(app, affiliate) : []),
    products: () => productItems(lines),
    offers: () => offerItems(app),
  };
  const { name: programme, summary } = theProgramme(app);
  return written(
    {
      title: `${programme}: ${titles[name]}`,
      about: filled(app, summary),
      home: affiliate ? `${app.address}/portal` : `${app.address}/join`,
      self,
      language: 'en',
      items: items[name](),
    },
    form,
  );
}
