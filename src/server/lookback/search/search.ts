import { and, eq, isNull, or, sql } from 'drizzle-orm';
import { givesWords } from '../../../core/material/coupon';
import { kindWords } from '../../../core/material/lists';
import { isId } from '../../../core/text/id';
import { affiliatesNamed, describeOrder } from '../../../core/tracking/reason';
import type { App } from '../../ground/context';
import { anywhere } from '../../ground/db/page';
import { perApp } from '../../ground/db/prepared';
import { RowTexts } from '../../ground/db/texts';
import { products } from '../../ground/tables/catalogue';
import { coupons } from '../../ground/tables/coupons';
import { creatives } from '../../ground/tables/creatives';
import { orders } from '../../ground/tables/orders';
import { affiliates } from '../../ground/tables/people';
import { payments, runs } from '../../ground/tables/runs';
import { findProspects } from '../../recruit/prospects/search';
import { namesOf } from '../../registers/access/names';
import { theProgramme } from '../../registers/programme/record';
import { salesNamed } from '../../track/orders/orders';

const most = 6;
/** So many that fit are put in order: of more, the newest. */
const mostLooked = 200;

/** Sales whose reference or payment has a part in it, newest first. */
function ordersBy(app: App, q: string): Found[] {
  const numbers = salesNamed(app, q, most);
  // without a condition all would be found
  if (!numbers.length && !isId(q, 'order')) return [];
  const found = app.db
    .select()
    .from(orders)
    .where(
      or(
        isId(q, 'order') ? eq(orders.id, q) : undefined,
        numbers.length ? sql`${orders}.rowid IN ${numbers}` : undefined,
      ),
    )
    .orderBy(sql`${orders.placedAt} DESC`)
    .limit(most)
    .all();
  const name = namesOf(
    app,
    found.flatMap((o) => affiliatesNamed(o.reason)),
  );
  return found.map((o) => ({
    kind: 'Sale',
    title: o.reference,
    sub: describeOrder(o.reason, name),
    to: `/sales/${o.id}`,
  }));
}

const transfers = perApp(
  ({ sqlite }) => new RowTexts(sqlite, { table: 'payments', text: 'end_to_end || char(31) || holder' }),
);

/** Payments by their reference, their holder or the affiliate's name, newest runs first. */
function paymentsBy(app: App, q: string) {
  const numbers = JSON.stringify(transfers(app).find(q, mostLooked));
  const named = sql`SELECT ${affiliates.id} FROM ${affiliates} WHERE ${affiliates.name} LIKE ${anywhere(q)} ESCAPE '\\' LIMIT ${mostLooked}`;
  return app.db
    .select({ p: payments, run: runs.number, name: affiliates.name })
    .from(payments)
    .innerJoin(runs, eq(runs.id, payments.run))
    .innerJoin(affiliates, eq(affiliates.id, payments.affiliate))
    .where(
      or(
        sql`${payments}.rowid IN (SELECT value FROM json_each(${numbers}))`,
        sql`${payments.affiliate} IN (${named})`,
      ),
    )
    .orderBy(sql`${runs.number} DESC`)
    .limit(most)
    .all();
}

interface Found {
  kind: string;
  title: string;
  sub: string;
  to: string;
}

const likeIn = (pattern: string) => (column: Parameters<typeof eq>[0]) =>
  sql`${column} LIKE ${pattern} ESCAPE '\\'`;

function productsBy(app: App, q: string): Found[] {
  const like = likeIn(anywhere(q));
  return app.db
    .select()
    .from(products)
    .where(or(like(products.name), like(products.code)))
    .orderBy(products.name)
    .limit(most)
    .all()
    .map((p) => ({ kind: 'Product', title: p.name, sub: `${p.code} · ${p.state}`, to: `/products/${p.id}` }));
}

/** Creatives by a part of their name or subject, coupons by a part of their code; those that were removed are not found. */
function materialBy(app: App, q: string): Found[] {
  const like = likeIn(anywhere(q));
  const pieces = app.db
    .select({ id: creatives.id, name: creatives.name, kind: creatives.kind, subject: creatives.subject })
    .from(creatives)
    .where(and(isNull(creatives.removedAt), or(like(creatives.name), like(creatives.subject))))
    .orderBy(creatives.name)
    .limit(most)
    .all()
    .map(({ id, name, kind, subject }) => ({
      kind: 'Creative',
      title: name,
      sub: [kindWords[kind][0], subject].filter(Boolean).join(' · '),
      to: `/creatives/${id}`,
    }));
  const codes = app.db
    .select()
    .from(coupons)
    .where(and(isNull(coupons.removedAt), like(coupons.code)))
    .orderBy(coupons.code)
    .limit(most)
    .all()
    .map((row) => ({
      kind: 'Coupon',
      title: row.code,
      sub: givesWords(row, theProgramme(app).base),
      to: `/coupons?id=${row.id}`,
    }));
  return [...pieces, ...codes];
}

function affiliatesBy(app: App, q: string): Found[] {
  const like = likeIn(anywhere(q));
  const { name, handle, email, sites } = affiliates;
  return app.db
    .select()
    .from(affiliates)
    .where(
      or(
        isId(q, 'affiliate') ? eq(affiliates.id, q) : undefined,
        like(name),
        like(handle),
        like(email),
        like(sites),
      ),
    )
    .orderBy(name)
    .limit(most)
    .all()
    .map((a) => ({
      kind: 'Affiliate',
      title: a.name,
      sub: `${a.state} · ${a.sites[0] ?? a.email}`,
      to: `/affiliates/${a.id}`,
    }));
}

function prospectsBy(app: App, q: string, stamp: number): Found[] {
  return findProspects({ sqlite: app.sqlite, stamp }, { q }, undefined, 2 * most)
    .rows.filter(({ row }) => row.state !== 'joined')
    .slice(0, most)
    .map(({ row }) => ({
      kind: 'Prospect',
      title: row.name,
      sub: `${row.id} · ${(JSON.parse(row.sites) as string[])[0]?.replace(/^https?:\/\//, '') ?? ''}`,
      to: `/prospects/${row.id}`,
    }));
}

/**
 * Finds products, affiliates, orders and payments by any part of a name, code, site or reference.
 * @param stamp changes with our copy of the partners
 */
export function search(app: App, text: string, stamp: number): { rows: Found[] } {
  const q = text.trim();
  if (!q) return { rows: [] };
  return {
    rows: [
      ...productsBy(app, q),
      ...affiliatesBy(app, q),
      ...materialBy(app, q),
      ...prospectsBy(app, q, stamp),
      ...ordersBy(app, q),
      ...paymentsBy(app, q).map(({ p, run, name }) => ({
        kind: 'Payment',
        title: `${name}, run ${run}`,
        sub: `${p.endToEnd} · ${p.state}`,
        to: `/payouts/${p.run}`,
      })),
    ],
  };
}
