import { barredBy } from '../core/attribution/barred';
import { dayOf, daysBetween } from '../core/calendar/zone';
import type { AffiliateState } from '../core/recruiting/states';
import type { Id } from '../core/text/id';
import { type App } from '../server/ground/context';
import { newId } from '../server/ground/db/ids';
import { clearDue } from '../server/ledger/journal';
import { linkMade } from '../server/registers/people/links';
import { grantClicks } from '../server/track/clicks/clicks';
import type { DemoAffiliate } from './affiliate';
import { hours, type At, type Plan } from './agenda';
import { codeOf } from './material/coupons';
import { planLaunch } from './material/launch';
import type { Made } from './material/play';
import { buy, type Purchase } from './purchases';
import { Seeded } from './random';
import * as scenario from './scenario';
import { demoAffiliates } from './scenario-affiliates';
import { seasonOf } from './season';

/** Writes visits as the redirect does, straight into the tables: a test proves that both come to the same. */
function visitWriter(app: App, made: Made) {
  // of its own: what a visit comes by changes nothing of what it buys
  const random = new Seeded(6_200);
  const insert = app.sqlite.prepare(
    'INSERT INTO visits (id, link, affiliate, product, at, visitor, landing, sub_ids, creative, barred) VALUES (?, ?, ?, ?, ?, ?, ?, NULL, ?, ?)',
  );
  const count = app.sqlite.prepare(
    'INSERT INTO click_days (day, product, clicks) VALUES (?, ?, 1) ON CONFLICT (day, product) DO UPDATE SET clicks = clicks + 1',
  );
  const find = app.sqlite.prepare<
    [string, string],
    { code: string; affiliate: Id<'affiliate'>; product: string; state: AffiliateState }
  >(
    'SELECT l.code, l.affiliate, l.product, a.state FROM links l JOIN affiliates a ON a.id = l.affiliate JOIN products p ON p.id = l.product WHERE a.email = ? AND p.code = ? AND l.creative IS NULL AND l.coupon IS NULL AND l.page IS NULL',
  );
  return (email: string, code: string, moment: number, automated: boolean): string | null => {
    const link = find.get(email, code);
    if (!link) return null;
    const id = newId('visit');
    const creative = random.chance(0.62) ? pickOf(made.offered(code, moment), random) : null;
    const barred = automated ? 'automated' : barredBy(link.state, false);
    insert.run(
      id,
      creative === null ? link.code : linkMade(app, link.affiliate, { creative }),
      link.affiliate,
      link.product,
      moment,
      newId('visitor'),
      `${scenario.shopHost}/p/${code}`,
      creative,
      barred,
    );
    if (!automated) count.run(dayOf(moment, scenario.merchant.zone), link.product);
    return id;
  };
}

/** One of some creatives: the first are put on more pages than those that came later. */
const pickOf = (creatives: readonly Id<'creative'>[], random: Seeded): Id<'creative'> | null =>
  creatives[Math.floor(random.next() ** 1.7 * creatives.length)] ?? null;

/** One sale that nobody is credited for. */
const plainSale = {
  visit: null,
  twice: false,
  refund: false,
  quantity: 1,
  discount: false,
  currency: 'EUR',
  part: false,
  later: 1,
  extras: [],
  renewals: 0,
};

const currencyWeights = { EUR: 80, USD: 9, GBP: 9, JPY: 2 } as const;

/** How often a product renews: the planner once, the box up to nine times. */
function renewalsOf(code: string, random: Seeded): number {
  if (code === 'GLAZE-M') return random.whole(0, 9);
  return code === 'PLAN-Y' ? 1 : 0;
}

/** What a visit comes to, drawn in one go: every draw of a visit is made whether it buys or not. */
function drawVisit(a: DemoAffiliate, random: Seeded) {
  const product = a.product
    ? scenario.demoProducts.find((p) => p.code === a.product)!
    : random.weighted(scenario.demoProducts, (p) => p.weight);
  const automated = random.chance(0.02);
  const buys = !automated && random.chance(product.conversion * (a.bad ? 1.8 : 1));
  const twice = buys && random.chance(0.02);
  const gap = Math.floor(random.next() * random.next() * 9 * 24 * hours);
  const refund = buys && random.chance(a.bad ? 0.3 : product.refunds);
  const steps = scenario.demoFunnels.find((f) => f.opening === product.code)?.steps ?? [];
  const bought = {
    product,
    twice,
    refund,
    quantity: random.chance(0.06) ? 2 : 1,
    discount: random.chance(0.12),
    extras: steps.filter((s) => random.chance(s.taken)),
    renewals: renewalsOf(product.code, random),
    currency: product.more?.kind
      ? 'EUR'
      : random.weighted(['EUR', 'USD', 'GBP', 'JPY'] as const, (c) => currencyWeights[c]),
    part: random.chance(0.4),
    later: random.whole(1, 12),
  };
  return { automated, buys, gap, bought };
}

/** Plans every day of the past: visits, what they buy, sales without anybody, and what the night brings. */
export function planDays(
  app: App,
  plan: Plan,
  at: At,
  { random, made }: { random: Seeded; made: Made },
): void {
  const write = visitWriter(app, made);
  let number = 4100;
  const sell = (p: Omit<Purchase, 'reference'>, who: string) => {
    number += 1;
    const day = dayOf(p.at, scenario.merchant.zone);
    const coupon = p.discount ? codeOf(p.product.code, day, who, number) : '';
    // once in a while a buyer tries a code that the shop was not told of
    const refusedCoupon = number % 173 === 0 && day > '2026-12-10' ? 'CLAY2' : '';
    buy(app, plan, { ...p, coupon, refusedCoupon, reference: `Q-${number}` });
  };
  const planVisit = (a: DemoAffiliate, day: string) => {
    const moment = at(day, 0) + Math.floor((6 + random.next() * 17.9) * hours);
    const { automated, buys, gap, bought } = drawVisit(a, random);
    plan(moment, () => {
      const visit = write(a.email, bought.product.code, moment, automated);
      if (!visit || !buys) return;
      const boughtAt = moment + gap + 4 * 60_000;
      plan(boughtAt, () => sell({ ...bought, visit, at: boughtAt }, a.email));
    });
  };
  for (const day of daysBetween(scenario.from, scenario.today)) {
    const season = seasonOf(day);
    for (const a of demoAffiliates.filter((x) => x.joined <= day)) {
      const clicks = Math.round(a.weight * season * (0.35 + random.next() * 0.5));
      for (let i = 0; i < clicks; i += 1) planVisit(a, day);
    }
    if (random.chance(0.5)) {
      const product = random.weighted(scenario.demoProducts, (p) => p.weight);
      const moment = at(day, 12) + random.whole(0, 8 * hours);
      plan(moment, () => sell({ ...plainSale, product, at: moment }, ''));
    }
    plan(at(day, 0) + 23.9 * hours, () => {
      grantClicks(app);
      clearDue(app);
    });
  }
  planLaunch(plan, { at, write, sell: (p) => buy(app, plan, p) });
}
