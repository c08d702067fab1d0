import { and, eq, inArray, isNotNull, isNull, sql } from 'drizzle-orm';
import type { CoverageOut, CoverageRow } from '../../../contract/equip/coverage';
import { formatDay } from '../../../core/calendar/format';
import { millisecondsInDay } from '../../../core/calendar/zone';
import { coverageOf, type Counted, type Covered } from '../../../core/material/coverage';
import { sizeName } from '../../../core/material/sizes';
import { counted } from '../../../core/text/counted';
import type { App } from '../../ground/context';
import { pageChecks } from '../../ground/tables/catalogue';
import { coupons } from '../../ground/tables/coupons';
import { creativeProducts, creatives } from '../../ground/tables/creatives';
import type { KeptProduct } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import { contradictingNow } from '../creatives/contradicting';
import { isInState } from '../creatives/states';
import { onSale } from '../promoted/promoted';
import { countOpenRequests } from '../requests/store';

/** After so many days without a new coupon one is missing: affiliates look for what is fresh. */
const freshDays = 31;

/** What is on, by product, kind and size: the one question that the table is made of. */
function countedNow(app: App): Counted[] {
  const { kind, width, height } = creatives;
  return app.db
    .select({ product: creativeProducts.product, kind, width, height, count: sql<number>`count(*)` })
    .from(creatives)
    .innerJoin(creativeProducts, eq(creativeProducts.creative, creatives.id))
    .where(and(isNull(creatives.removedAt), isInState(app, 'on')))
    .groupBy(creativeProducts.product, kind, width, height)
    .all();
}

/** Products on sale, by their names. */
const promoted = (app: App): KeptProduct[] => onSale(app).sort((a, b) => a.name.localeCompare(b.name, 'en'));

/** What there is for each product on sale, and for the whole programme. */
export function coveredNow(app: App): Covered[] {
  return coverageOf([...promoted(app).map((p) => p.id), 'programme'], countedNow(app));
}

/** Moment at which the last coupon began; null where there never was one. */
export function lastCouponAt(app: App): number | null {
  const now = app.clock.now();
  const began = sql<number | null>`max(max(${coupons.createdAt}, coalesce(${coupons.from}, 0)))`;
  return (
    app.db
      .select({ at: began })
      .from(coupons)
      .where(and(isNull(coupons.removedAt), sql`coalesce(${coupons.from}, 0) <= ${now}`))
      .get()?.at ?? null
  );
}

/** Whether no coupon began lately. */
export function lacksCoupon(app: App): boolean {
  const last = lastCouponAt(app);
  return last === null || last < app.clock.now() - freshDays * millisecondsInDay;
}

/** Own landing pages of creatives that are on: looked at with those of products. */
export function landingPages(app: App): string[] {
  return app.db
    .selectDistinct({ landing: creatives.landing })
    .from(creatives)
    .where(and(isNull(creatives.removedAt), sql`${creatives.landing} <> ''`, isInState(app, 'on')))
    .all()
    .map((row) => row.landing);
}

/** Landing pages that did not answer when they were last looked at. */
function silentPages(app: App): string[] {
  const pages = landingPages(app);
  if (!pages.length) return [];
  return app.db
    .select({ address: pageChecks.address })
    .from(pageChecks)
    .where(and(inArray(pageChecks.address, pages), isNotNull(pageChecks.fault)))
    .all()
    .map((row) => row.address);
}

type Line = CoverageOut['missing'][number];

function couponLine(app: App): Line[] {
  if (!lacksCoupon(app)) return [];
  const last = lastCouponAt(app);
  const text =
    last === null
      ? 'There is no coupon yet'
      : `No coupon began since ${formatDay(last, theProgramme(app).zone)}`;
  return [{ text, to: '/coupons?new=1', act: 'make one' }];
}

function requestLine(app: App): Line[] {
  const { count } = countOpenRequests(app);
  return count
    ? [
        {
          text: `${counted(count, 'request')} of affiliates not answered`,
          to: '/creatives/requests',
          act: 'answer',
        },
      ]
    : [];
}

/** So many products with nothing are named. */
const mostBare = 12;

function bareLines(bare: readonly { id: string; name: string }[]): Line[] {
  const more = bare.length - mostBare;
  return [
    ...bare.slice(0, mostBare).map(({ id, name }) => ({
      text: `${name} has nothing at all`,
      to: `/creatives/new/banner?product=${id}`,
      act: 'make something',
    })),
    ...(more > 0
      ? [
          {
            text: `${counted(more, 'product')} more ${more === 1 ? 'has' : 'have'} nothing at all`,
            to: '/creatives/coverage',
            act: 'see which',
          },
        ]
      : []),
  ];
}

/** What is missing beside sizes and kinds, each with where it is filled. */
function linesOf(app: App, covered: readonly Covered[]): Line[] {
  const names = new Map<string, string>(promoted(app).map((p) => [p.id, p.name]));
  const bare = covered.filter((c) => c.total === 0 && names.has(c.product));
  const contradicting = contradictingNow(app).length;
  return [
    ...bareLines(bare.map((c) => ({ id: c.product, name: names.get(c.product)! }))),
    ...couponLine(app),
    ...silentPages(app).map((address) => ({
      text: `${address.replace(/^https?:\/\//, '')} did not answer`,
      to: `/creatives?q=${encodeURIComponent(address)}`,
      act: 'see which lead there',
    })),
    ...requestLine(app),
    ...(contradicting
      ? [
          {
            text: `${counted(contradicting, 'creative contradicts', 'creatives contradict')} your terms`,
            to: '/creatives?state=contradicts',
            act: 'look',
          },
        ]
      : []),
  ];
}

function rowOf(
  products: ReadonlyMap<string, KeptProduct>,
  { product, sizes, kinds, total }: Covered,
): CoverageRow {
  const own = products.get(product);
  return {
    product: own?.id ?? null,
    code: own?.code ?? '',
    name: own?.name ?? 'The whole programme',
    sizes: sizes.map(({ size, count }) => ({ size: sizeName(size), ...size, count })),
    kinds,
    total,
  };
}

/** What material there is, and what is missing. */
export function readCoverage(app: App): CoverageOut {
  const covered = coveredNow(app);
  const products = new Map(promoted(app).map((p) => [p.id as string, p]));
  return {
    rows: covered.map((c) => rowOf(products, c)),
    missing: linesOf(app, covered),
    lastCoupon: lastCouponAt(app),
  };
}

/** How many products on sale have nothing to be promoted with. */
export function countBare(app: App): { count: number; first: string | null } {
  const names = new Map<string, string>(promoted(app).map((p) => [p.id, p.name]));
  const bare = coveredNow(app).filter((c) => c.total === 0 && names.has(c.product));
  return { count: bare.length, first: bare[0] ? names.get(bare[0].product)! : null };
}
