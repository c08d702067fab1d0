import { barredBy } from '../../../core/attribution/barred';
import type { Barred } from '../../../core/attribution/lists';
import { inForce } from '../../../core/calendar/span';
import { landingFault } from '../../../core/material/landing';
import type { AffiliateState } from '../../../core/recruiting/states';
import type { Id } from '../../../core/text/id';
import { couponMaybe, type CouponRecord } from '../../equip/coupons/store';
import { productLed } from '../../equip/creatives/leads';
import { creativeMaybe } from '../../equip/creatives/store';
import { shopHome } from '../../equip/promoted/promoted';
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
  /** the code that the shop is handed, while it holds */
  code: { text: string; from: number; until: number | null } | null;
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
  code: Target['code'];
}

/** The code that the shop is handed by links of a coupon. */
function codeOf({ applied, active, removedAt, code, from, until }: CouponRecord): Aim['code'] {
  return applied && active && removedAt === null ? { text: code, from: from ?? 0, until } : null;
}

/** A creative or a coupon that is off, over or taken away still leads buyers on: who put its link somewhere did nothing wrong. */
function aimOf(app: App, link: LinkRow): Aim {
  const product = link.product === null ? null : (productById(app, link.product) ?? null);
  const creative = link.creative === null ? undefined : creativeMaybe(app, link.creative);
  if (creative) return { product: productLed(app, creative.products), page: creative.landing, code: null };
  const coupon = link.coupon === null ? undefined : couponMaybe(app, link.coupon);
  if (!coupon) return { product, page: link.page ?? '', code: null };
  const led = productLed(app, coupon.products) ?? product;
  return { product: led, page: coupon.landing || (led ? '' : shopHome(app)), code: codeOf(coupon) };
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

  const led = ({
    product,
    page,
  }: Pick<Aim, 'product' | 'page'>): Pick<Target, 'leads' | 'mobile' | 'before' | keyof Page> => {
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
        code: aim.code,
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

/** What stands behind the landing page's address: the visit, and the coupon while it holds. */
export function handedOver(
  { landing, fragment }: Page,
  { code }: Target,
  visit: string,
  now: number,
): string {
  const coupon = code && inForce(code, now) ? `&coupon=${encodeURIComponent(code.text)}` : '';
  return `${landing}${landing.includes('?') ? '&' : '?'}gvn=${visit}${coupon}${fragment}`;
}

const phones = /\b(iPhone|iPod|Android.+Mobile|Windows Phone|Mobile Safari)\b/;

/** The page that a link leads to now: before the launch its own, for phones theirs, else the sales page. */
export function pageFor(target: Target, now: number, agent: string | undefined): Page {
  if (target.before && now < target.before.until) return target.before.page;
  return target.mobile && agent && phones.test(agent) ? target.mobile : target;
}
