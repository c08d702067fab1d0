import { countUnpaid, judgeClicks, runsOf, type Click } from '../../../core/attribution/clicks';
import { addDays, dayOf, startOfDay } from '../../../core/calendar/zone';
import { winner } from '../../../core/terms/book';
import { amountsOf } from '../../../core/terms/resolve';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import { productById, type ProductRecord } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import { changeProgramme } from '../../registers/programme/write';
import { lockedAt, termsOf } from '../../setup/terms/service';
import { theTerms } from '../../setup/terms/store';
import { takeOrder } from '../orders/intake';
import { uncount } from '../visits/uncount';

const statements = perApp((app) => ({
  products: app.sqlite
    .prepare<[number, number], Id<'product'>>(
      "SELECT DISTINCT product FROM visits WHERE at >= ? AND at < ? AND barred IS NULL AND uncounted IS NULL AND product <> '' ORDER BY product",
    )
    .pluck(),
  clicks: app.sqlite.prepare<[number, number, string], Click>(
    'SELECT id, at, affiliate, visitor, address FROM visits WHERE at >= ? AND at < ? AND product = ? AND barred IS NULL AND uncounted IS NULL ORDER BY at, id',
  ),
}));

/** Which rate pays a click of an affiliate at a moment, and how much, as one word: clicks with the same word are one line. Empty = nothing. */
function termsOfClick(app: App, affiliate: Id<'affiliate'>, product: ProductRecord, at: number): string {
  const { base } = theProgramme(app);
  const { book } = theTerms(app);
  const terms = termsOf(app, affiliate, at);
  const line = {
    product: product.id,
    kind: product.kind,
    name: product.name,
    quantity: 1,
    amount: 0,
    discount: 0,
    approved: true,
    locked: lockedAt(app, product.id, 'click', at),
  };
  const amount = amountsOf(book, terms, {
    event: 'click',
    at,
    payment: 1,
    currency: base,
    base,
    rateMicros: 1_000_000,
    lines: [line],
  })[0]!;
  if (amount === 0) return '';
  return `${winner(book, terms, line, { event: 'click', at, payment: 1, rows: [{ line, base: 0 }] })?.id ?? ''} ${amount}`;
}

interface Priced {
  click: Click;
  terms: string;
}

/** Grants what the clicks of one day on one product earned: one entry in the list of sales for each affiliate and rate. */
function grantProduct(
  app: App,
  day: string,
  { product, from, to }: { product: ProductRecord; from: number; to: number },
): number {
  const { base, clicksPerAddress } = theProgramme(app);
  const paying = new Map<string, Priced>();
  for (const click of statements(app).clicks.all(from, to, product.id)) {
    const terms = termsOfClick(app, click.affiliate, product, click.at);
    if (terms !== '') paying.set(click.id, { click, terms });
  }
  const { paid, unpaid } = judgeClicks(
    [...paying.values()].map((p) => p.click),
    clicksPerAddress,
  );
  for (const { click, why } of unpaid) uncount(app, click.id, why);
  let granted = 0;
  for (const affiliate of [...new Set(paid.map((c) => c.affiliate))].sort()) {
    const others = countUnpaid(unpaid.filter((u) => u.click.affiliate === affiliate));
    for (const { items } of runsOf(
      paid.filter((c) => c.affiliate === affiliate),
      (c) => paying.get(c.id)!.terms,
    )) {
      const first = items[0]!;
      const reason = { code: 'clicks', day, paid: items.length, unpaid: others } as const;
      const taken = takeOrder(
        app,
        {
          reference: `clicks ${day}`,
          payment: `clicks ${day} ${first.id}`,
          placedAt: first.at,
          day,
          currency: base,
          rateMicros: 1_000_000,
          visit: null,
          visitor: null,
          customer: null,
          email: '',
          test: false,
          lines: [{ product, quantity: items.length, amount: 0, discount: 0, step: null, quote: null }],
          event: 'click',
          number: 1,
          subscription: null,
          warnings: [],
          content: JSON.stringify(['clicks', day, affiliate, product.id, items.length]),
        },
        'server',
        { visitAt: first.at, credit: { affiliate, visit: null, by: 'clicks', reason, considered: [] } },
      );
      if (taken.status === 201) granted += 1;
    }
  }
  return granted;
}

function grantDay(app: App, day: string): number {
  const { zone } = theProgramme(app);
  const [from, to] = [startOfDay(day, zone), startOfDay(addDays(day, 1), zone)];
  let granted = 0;
  for (const id of statements(app).products.all(from, to)) {
    const product = productById(app, id);
    if (product) granted += grantProduct(app, day, { product, from, to });
  }
  return granted;
}

/**
 * Grants rewards by the click for every day that is over and was not counted yet. A day is counted once, whole or not at all;
 * programmes without such rates do nothing. @returns how many entries were made
 */
export function grantClicks(app: App): number {
  const rates = theTerms(app).data.rates.filter((r) => r.event === 'click');
  if (!rates.length) return 0;
  const { zone, clicksTo } = theProgramme(app);
  const yesterday = addDays(dayOf(app.clock.now(), zone), -1);
  // the first rate by the click begins it: what was clicked before it was made was never promised anything
  const begun = app.sqlite
    .prepare("SELECT min(max(valid_from, created_at)) FROM rates WHERE event = 'click'")
    .pluck()
    .get() as number;
  let day = clicksTo === null ? dayOf(begun, zone) : addDays(clicksTo, 1);
  let granted = 0;
  for (; day <= yesterday; day = addDays(day, 1)) {
    granted += app.transaction(() => {
      const n = grantDay(app, day);
      changeProgramme(app, { clicksTo: day });
      return n;
    });
    touch(app, 'records');
  }
  return granted;
}
