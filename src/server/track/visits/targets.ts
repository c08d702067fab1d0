import { barredBy } from '../../../core/attribution/barred';
import type { Barred } from '../../../core/attribution/lists';
import { inForce } from '../../../core/calendar/span';
import { handedPart } from '../../../core/material/handed';
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
  /** what tells the page of the product who leads there */
  handed: string;
}

interface LinkRow {
  affiliate: string;
  product: Id<'product'> | null;
  creative: Id<'creative'> | null;
  coupon: Id<'coupon'> | null;
  page: string | null;
  state: AffiliateState;
  handle: string;
}

/** What a link is for: its product, and the page that it names instead of the product's own. */
interface Aim {
  product: KeptProduct | null;
  page: string;
  code: Target['code'];
}

/** Who leads there, where a product's page wishes to be told. */
function handedBy(product: KeptProduct | null, { affiliate, handle }: LinkRow): string {
  if (!product) return '';
  const { handParameter, handAs } = detailsOf(product);
  return handedPart({ parameter: handParameter, as: handAs }, { handle, id: affiliate });
}

/** The code that the shop is handed by links of a coupon. */
function codeOf({ applied, active, removedAt, code, from, until }: CouponRecord): Aim['code'] {
  return applied && active && removedAt === null ? { text: code, from: from ?? 0, until } : null;
}

/** The page that an affiliate chose, while its host is listed; else the product's own. */
const chosenPage = (app: App, page: string | null): string =>
  page !== null && landingFault(page, theProgramme(app).landingHosts) === null ? page : '';

/** A creative or a coupon that is off, over or taken away still leads buyers on: who put its link somewhere did nothing wrong. */
function aimOf(app: App, link: LinkRow): Aim {
  const product = link.product === null ? null : (productById(app, link.product) ?? null);
  const creative = link.creative === null ? undefined : creativeMaybe(app, link.creative);
  if (creative) return { product: productLed(app, creative.products), page: creative.landing, code: null };
  const coupon = link.coupon === null ? undefined : couponMaybe(app, link.coupon);
  if (!coupon) return { product, page: chosenPage(app, link.page), code: null };
  const led = productLed(app, coupon.products) ?? product;
  return { product: led, page: coupon.landing || (led ? '' : shopHome(app)), code: codeOf(coupon) };
}

/** Finds what links lead to, and keeps it until something changes. */
export function targetsOf(app: App) {
  const kept = new Map<string, Target>();
  const links = app.sqlite.prepare<[string], LinkRow>(
    `SELECT l.affiliate, l.product, l.creative, l.coupon, l.page, a.state, a.handle
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
        handed: handedBy(aim.product, row),
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

/** What stands behind the landing page's address: the visit, the coupon while it holds, and who leads there if that is wished. */
export function handedOver(
  { landing, fragment }: Page,
  { code, handed }: Target,
  visit: string,
  now: number,
): string {
  const coupon = code && inForce(code, now) ? `&coupon=${encodeURIComponent(code.text)}` : '';
  return `${landing}${landing.includes('?') ? '&' : '?'}gvn=${visit}${coupon}${handed}${fragment}`;
}

const phones = /\b(iPhone|iPod|Android.+Mobile|Windows Phone|Mobile Safari)\b/;

/** The page that a link leads to now: before the launch its own, for phones theirs, else the sales page. */
export function pageFor(target: Target, now: number, agent: string | undefined): Page {
  if (target.before && now < target.before.until) return target.before.page;
  return target.mobile && agent && phones.test(agent) ? target.mobile : target;
}
