import { barredBy } from '../../../core/attribution/barred';
import type { Barred } from '../../../core/attribution/lists';
import { landingFault } from '../../../core/material/landing';
import type { AffiliateState } from '../../../core/recruiting/states';
import type { Id } from '../../../core/text/id';
import { productLed } from '../../equip/creatives/leads';
import { creativeMaybe } from '../../equip/creatives/store';
import { type App } from '../../ground/context';
import { detailsOf } from '../../registers/catalogue/details';
import { productById, type KeptProduct } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';

/** A page as a link leads to it. */
export interface Page {
  landing: string;
  /** what follows "#", to stand after the visit's id */
  fragment: string;
}

/** A tracking link as the redirect needs it, resolved once and kept until something changes. */
export interface Target extends Page {
  affiliate: string;
  /** empty: for the whole programme */
  product: string;
  creative: string | null;
  coupon: string | null;
  /** false: the product is not on sale and names no page */
  leads: boolean;
  /** where phones are led, if elsewhere */
  mobile: Page | null;
  /** where everybody is led until a moment */
  before: { page: Page; until: number } | null;
  barred: Barred | null;
}

interface LinkRow {
  affiliate: string;
  product: Id<'product'> | null;
  creative: Id<'creative'> | null;
  coupon: Id<'coupon'> | null;
  page: string | null;
  state: AffiliateState;
}

/** What a link is for: its product, and the page that it names instead of the product's own. */
interface Aim {
  product: KeptProduct | null;
  page: string;
}

/** A creative that is off, over or taken away still leads buyers on: who put its link somewhere did nothing wrong. */
function aimOf(app: App, { product, creative, page }: LinkRow): Aim {
  const own = product === null ? null : (productById(app, product) ?? null);
  if (creative === null) return { product: own, page: page ?? '' };
  const row = creativeMaybe(app, creative);
  return row ? { product: productLed(app, row.products), page: row.landing } : { product: own, page: '' };
}

/** Finds what links lead to, and keeps it until something changes. */
export function targetsOf(app: App) {
  const kept = new Map<string, Target>();
  const links = app.sqlite.prepare<[string], LinkRow>(
    `SELECT l.affiliate, l.product, l.creative, l.coupon, l.page, a.state
     FROM links l JOIN affiliates a ON a.id = l.affiliate WHERE l.code = ?`,
  );
  app.kept.onChange.push(() => kept.clear());

  const parts = (address: string): Page => {
    if (address === '') return { landing: '', fragment: '' };
    const url = new URL(address);
    const played = app.aliases.get(url.host);
    const { hash } = url;
    url.hash = '';
    return { landing: played ? played + url.pathname + url.search : url.href, fragment: hash };
  };

  const led = ({ product, page }: Aim): Pick<Target, 'leads' | 'mobile' | 'before' | keyof Page> => {
    if (page !== '' || !product) return { ...parts(page), leads: page !== '', mobile: null, before: null };
    const { mobilePage, fallbackPage, prelaunchPage, launchAt } = detailsOf(product);
    // a product that is not on sale leads to its fallback page, where it has one
    const address = product.state === 'live' || !fallbackPage ? product.salesPage : fallbackPage;
    const before =
      prelaunchPage && launchAt !== null ? { page: parts(prelaunchPage), until: launchAt } : null;
    const mobile = mobilePage && address === product.salesPage ? parts(mobilePage) : null;
    return { ...parts(address), leads: address !== '', mobile, before };
  };

  return {
    /** null for a code that is none of ours; those are not kept: anybody can make up any number of them */
    find: (code: string): Target | null => {
      const known = kept.get(code);
      if (known) return known;
      const row = links.get(code);
      if (!row) return null;
      const aim = aimOf(app, row);
      const target: Target = {
        affiliate: row.affiliate,
        product: aim.product?.id ?? '',
        creative: row.creative,
        coupon: row.coupon,
        barred: barredBy(row.state, aim.product?.state === 'retired'),
        ...led(aim),
      };
      kept.set(code, target);
      return target;
    },
    /** a page chosen by the link itself, if it is on a host that the merchant listed */
    listed: (address: string): Page | null =>
      landingFault(address, theProgramme(app).landingHosts) === null ? parts(address) : null,
  };
}

const phones = /\b(iPhone|iPod|Android.+Mobile|Windows Phone|Mobile Safari)\b/;

/** The page that a link leads to now: before the launch its own, for phones theirs, else the sales page. */
export function pageFor(target: Target, now: number, agent: string | undefined): Page {
  if (target.before && now < target.before.until) return target.before.page;
  return target.mobile && agent && phones.test(agent) ? target.mobile : target;
}
