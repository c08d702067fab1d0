import { and, eq, gte, inArray, isNull, or, sql, type SQL } from 'drizzle-orm';
import type { QueryOf, ReplyOf } from '../../../contract/endpoint';
import type { listAffiliates as List } from '../../../contract/recruit/roster';
import { formatDay } from '../../../core/calendar/format';
import { millisecondsInDay } from '../../../core/calendar/zone';
import { timingWords } from '../../../core/ledger/timing';
import { toDecimal } from '../../../core/money/amount';
import {
  rosterColumns,
  usualColumns,
  type RosterColumn,
  type RosterFilter,
} from '../../../core/recruiting/roster';
import { termsAt } from '../../../core/terms/members';
import { isId, type Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { afterCursor, anywhere, cut, inOrder } from '../../ground/db/page';
import { refuse } from '../../ground/http/problem';
import { staff } from '../../ground/tables/access';
import { trusts } from '../../ground/tables/applications';
import { orders } from '../../ground/tables/orders';
import { affiliates } from '../../ground/tables/people';
import { memberships } from '../../ground/tables/terms';
import { lastClicks, payeeTotals } from '../../ground/tables/totals';
import { visits } from '../../ground/tables/visits';
import { promoting } from '../../registers/people/promoting';
import { theProgramme } from '../../registers/programme/record';
import { owesAcceptance } from '../../setup/policy/versions';
import { setsInUse, theTerms } from '../../setup/terms/store';
import { isClick, isOrder } from '../../totals/facts';
import { practicesNow } from '../practices/meant';
import { isPermitted, usesPractice } from '../practices/publishing';

type Row = ReplyOf<typeof List>['rows'][number];
type Affiliate = typeof affiliates.$inferSelect;
const clickDays = 90;

function inSet(app: App, id: string, kind: 'group' | 'tag' | 'card'): SQL | undefined {
  const now = app.clock.now();
  const running = sql`m.affiliate = ${affiliates.id} AND m.of = ${kind} AND m.valid_from <= ${now} AND (m.valid_until IS NULL OR m.valid_until > ${now})`;
  if (id === 'none') return sql`NOT EXISTS (SELECT 1 FROM ${memberships} m WHERE ${running})`;
  const there = sql`EXISTS (SELECT 1 FROM ${memberships} m WHERE ${running} AND m.set_id = ${id})`;
  // those on no card are on the standard one
  return kind === 'card' && theTerms(app).data.defaultCard === id
    ? or(there, and(promoting, sql`NOT EXISTS (SELECT 1 FROM ${memberships} m WHERE ${running})`))
    : there;
}

/** Whether an affiliate's link was followed since a moment: by the day of the last click, and on the day of the moment itself by the visits. */
function clickedSince(moment: number): SQL {
  const day = Math.floor(moment / millisecondsInDay);
  const later = sql`EXISTS (SELECT 1 FROM visits w WHERE w.affiliate = c.affiliate AND w.at >= ${moment} AND ${sql.raw(isClick('w'))})`;
  return sql`EXISTS (SELECT 1 FROM ${lastClicks} c WHERE c.affiliate = ${affiliates.id} AND (c.day > ${day} OR (c.day = ${day} AND ${later})))`;
}

/** What is wrong, or special, about those that are asked for. */
function onlyThose(app: App, only: NonNullable<RosterFilter['only']>): SQL {
  const now = app.clock.now();
  switch (only) {
    case 'bounced':
      return sql`${affiliates.mailFault} IS NOT NULL`;
    case 'no-details':
      return sql`${affiliates.joinedAt} IS NOT NULL AND (${affiliates.payeeIban} = '' OR ${affiliates.payeeHolder} = '' OR ${affiliates.payeeAddress} = '')`;
    case 'no-clicks':
      return sql`${affiliates.joinedAt} IS NOT NULL AND NOT ${clickedSince(now - clickDays * millisecondsInDay)}`;
    case 'unaccepted':
      return owesAcceptance(app);
    case 'promoters':
      return eq(affiliates.promotes, true);
    case 'trusted':
      return sql`EXISTS (SELECT 1 FROM ${trusts} t WHERE t.affiliate = ${affiliates.id} AND t.ended_at IS NULL AND (t.valid_until IS NULL OR t.valid_until > ${now}))`;
  }
}

/** Any part of a name, handle, address or site, or a whole id. */
function foundBy(typed: string): SQL | undefined {
  const pattern = anywhere(typed);
  const { name, handle, email, sites, id } = affiliates;
  return or(
    ...[name, handle, email, sites].map((c) => sql`${c} LIKE ${pattern} ESCAPE '\\'`),
    isId(typed, 'affiliate') ? eq(id, typed) : undefined,
  );
}

const lookedAfterBy = (who: Id<'staff'> | 'nobody'): SQL =>
  who === 'nobody' ? isNull(affiliates.lookedAfter) : eq(affiliates.lookedAfter, who);

/** A condition for what is asked for; none where it is not. */
const where = <T>(asked: T | undefined, condition: (asked: T) => SQL | undefined): SQL | undefined =>
  asked ? condition(asked) : undefined;

/** The conditions of a roster filter. */
export function rosterWhere(app: App, f: RosterFilter): SQL | undefined {
  return and(
    where(f.state, (state) => eq(affiliates.state, state)),
    where(f.q?.trim(), foundBy),
    where(f.group, (set) => inSet(app, set, 'group')),
    where(f.tag, (set) => inSet(app, set, 'tag')),
    where(f.card, (set) => inSet(app, set, 'card')),
    where(f.kind, (kind) => eq(affiliates.kind, kind === 'none' ? '' : kind)),
    where(f.country, (country) => eq(affiliates.country, country.toUpperCase())),
    where(f.timing, (timing) => eq(affiliates.timing, timing)),
    where(f.lookedAfter, lookedAfterBy),
    where(f.practice, (key) => or(usesPractice(key), isPermitted(key))),
    where(f.only, (only) => onlyThose(app, only)),
  );
}

const keysets = {
  name: { by: affiliates.name, id: affiliates.id, order: 'asc' },
  newest: { by: affiliates.createdAt, id: affiliates.id, order: 'desc' },
} as const;

/** Reads something of many affiliates, some hundred at once. */
function readOfEach<T extends { id: string | null }>(
  ids: Id<'affiliate'>[],
  read: (some: Id<'affiliate'>[]) => T[],
): Map<string, T> {
  const all = new Map<string, T>();
  for (let i = 0; i < ids.length; i += 500) for (const r of read(ids.slice(i, i + 500))) all.set(r.id!, r);
  return all;
}

/** Owed and paid by affiliate, minor units of base. */
const moneyOf = (app: App, ids: Id<'affiliate'>[]) =>
  readOfEach(ids, (some) =>
    app.db
      .select({
        id: payeeTotals.affiliate,
        owed: sql<number>`${payeeTotals.held} + ${payeeTotals.cleared}`,
        paid: payeeTotals.paid,
      })
      .from(payeeTotals)
      .where(inArray(payeeTotals.affiliate, some))
      .all(),
  );

const clicksOfEach = (app: App, ids: Id<'affiliate'>[]) =>
  readOfEach(ids, (some) =>
    app.db
      .select({ id: visits.affiliate, n: sql<number>`count(*)` })
      .from(visits)
      .where(
        and(
          inArray(visits.affiliate, some),
          gte(visits.at, app.clock.now() - clickDays * millisecondsInDay),
          sql.raw(isClick('visits')),
        ),
      )
      .groupBy(visits.affiliate)
      .all(),
  );

const salesOfEach = (app: App, ids: Id<'affiliate'>[]) =>
  readOfEach(ids, (some) =>
    app.db
      .select({ id: orders.affiliate, n: sql<number>`count(*)` })
      .from(orders)
      .where(and(inArray(orders.affiliate, some), eq(orders.test, false), sql.raw(isOrder('orders'))))
      .groupBy(orders.affiliate)
      .all(),
  );

/** Names of the staff by id. */
const staffNames = (app: App) =>
  new Map(
    app.db
      .select({ id: staff.id, name: staff.name })
      .from(staff)
      .all()
      .map((p) => [p.id, p.name]),
  );

/** Where an affiliate is, by name: its group, card and tags now. */
function placesOf(app: App): (r: Affiliate) => Pick<Row, 'group' | 'card' | 'tags'> {
  const sets = new Map(setsInUse(app).map((s) => [s.id, s]));
  const { roll } = theTerms(app);
  const now = app.clock.now();
  const named = (id: Id<'set'> | null) => {
    const s = id === null ? undefined : sets.get(id);
    return s ? { id: s.id, name: s.name } : null;
  };
  return (r) => {
    const { card, group, tags } = termsAt(roll, r.id, now);
    return {
      group: named(group?.id ?? null),
      card: r.joinedAt === null ? null : named(card),
      tags: tags.flatMap((t) => {
        const s = sets.get(t);
        return s ? [{ id: s.id, name: s.name, colour: s.colour }] : [];
      }),
    };
  };
}

/** Reads what the rows of a page show, for all of them at once. */
function show(app: App, found: Affiliate[]): Row[] {
  const { base } = theProgramme(app);
  const ids = found.map((r) => r.id);
  const [money, clicks, sold] = [moneyOf(app, ids), clicksOfEach(app, ids), salesOfEach(app, ids)];
  const people = staffNames(app);
  const places = placesOf(app);
  return found.map((r) => {
    const { owed = 0, paid = 0 } = money.get(r.id) ?? {};
    const { id, handle, name, email, country, sites, state, timing, kind } = r;
    return {
      ...{ id, handle, name, email, country, sites, state, timing, kind },
      lookedAfter: r.lookedAfter === null ? null : (people.get(r.lookedAfter) ?? null),
      joinedAt: r.joinedAt,
      promotes: r.promotes,
      mailFault: r.mailFault,
      clicks90: clicks.get(id)?.n ?? 0,
      orders: sold.get(id)?.n ?? 0,
      owed: { amount: owed, currency: base },
      paid: { amount: paid, currency: base },
      ...places(r),
    };
  });
}

export function listAffiliates(app: App, filter: QueryOf<typeof List>): ReplyOf<typeof List> {
  const limit = filter.limit ?? 50;
  const keyset = keysets[filter.sort ?? 'name'];
  const where = rosterWhere(app, filter);
  const found = app.db
    .select()
    .from(affiliates)
    .where(and(where, afterCursor(keyset, filter.after)))
    .orderBy(...inOrder(keyset))
    .limit(limit + 1)
    .all();
  const { rows, next } = cut(found, limit, (r) => [filter.sort === 'newest' ? r.createdAt : r.name, r.id]);
  // counted with the first page only, where there are more: further pages say the same
  const total = filter.after !== undefined ? 0 : next === null ? rows.length : countOf(app, filter);
  return {
    next,
    total,
    rows: show(app, rows),
    staff: app.db
      .select({ id: staff.id, name: staff.name })
      .from(staff)
      .where(eq(staff.active, true))
      .orderBy(staff.name)
      .all(),
    practices: practicesNow(app).table.map(({ key, name }) => ({ key, name })),
  };
}

/** Ids of all who fit a filter, by name. */
export function idsOf(app: App, filter: RosterFilter, most: number): Id<'affiliate'>[] {
  return app.db
    .select({ id: affiliates.id })
    .from(affiliates)
    .where(rosterWhere(app, filter))
    .orderBy(affiliates.name, affiliates.id)
    .limit(most)
    .all()
    .map((r) => r.id);
}

/** How many fit a filter. */
export function countOf(app: App, filter: RosterFilter): number {
  return app.db
    .select({ n: sql<number>`count(*)` })
    .from(affiliates)
    .where(rosterWhere(app, filter))
    .get()!.n;
}

/** Columns by name; the usual ones where none is named. @throws Problem `invalid` naming one that does not exist */
export function readColumns(text: string | undefined): RosterColumn[] {
  const names = (text ?? '')
    .split(',')
    .map((c) => c.trim())
    .filter(Boolean);
  const strange = names.find((n) => !(n in rosterColumns));
  if (strange)
    throw refuse('columns', `Columns: “${strange.slice(0, 30)}” is not one`, usualColumns.join(','));
  return names.length ? (names as RosterColumn[]) : usualColumns;
}

/** So many rows are read before others get their turn. */
const atOnce = 500;

/** What the columns of the roster are called in an export. */
export function rosterColumnTitles(app: App, columns: readonly RosterColumn[]): string[] {
  const { base } = theProgramme(app);
  return [
    'Name',
    ...columns.map((c) => (c === 'owed' || c === 'paid' ? `${rosterColumns[c]} ${base}` : rosterColumns[c])),
  ];
}

/** A piece of the roster as it is shown, for an export: the name and the chosen columns. */
export function rosterPiece(
  app: App,
  filter: RosterFilter & { sort?: 'name' | 'newest'; after?: string },
  columns: readonly RosterColumn[],
): { lines: (string | number)[][]; next: string | null } {
  const { base, zone } = theProgramme(app);
  const cell: Record<RosterColumn, (r: Row) => string | number> = {
    handle: (r) => r.handle,
    country: (r) => r.country,
    state: (r) => r.state,
    timing: (r) => timingWords[r.timing],
    clicks: (r) => r.clicks90,
    orders: (r) => r.orders,
    owed: (r) => toDecimal(r.owed.amount, base),
    paid: (r) => toDecimal(r.paid.amount, base),
    since: (r) => (r.joinedAt === null ? '' : formatDay(r.joinedAt, zone)),
    group: (r) => r.group?.name ?? '',
    tags: (r) => r.tags.map((t) => t.name).join(', '),
    card: (r) => r.card?.name ?? '',
    kind: (r) => r.kind,
    lookedAfter: (r) => r.lookedAfter ?? '',
    email: (r) => r.email,
    sites: (r) => r.sites.join(' '),
  };
  const { rows, next } = listAffiliates(app, { ...filter, limit: atOnce });
  return { lines: rows.map((r) => [r.name, ...columns.map((c) => cell[c](r))]), next };
}
