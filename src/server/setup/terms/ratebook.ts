import { isNull } from 'drizzle-orm';
import type { QueryOf } from '../../../contract/endpoint';
import type { RateBookOut, readRateBook as Read } from '../../../contract/setup/rate-book';
import { dayOf, isDay, startOfDay } from '../../../core/calendar/zone';
import { isOpenToAffiliates, productKinds } from '../../../core/pricing/product';
import { cellOf, termsOfColumn, type Column, type Row } from '../../../core/terms/cell';
import { applyDraft, type Change } from '../../../core/terms/draft';
import { isLocked, termsAt } from '../../../core/terms/members';
import type { Event, Rate, Sold, What } from '../../../core/terms/rate';
import { isId, type Id } from '../../../core/text/id';
import { type Actor, type App } from '../../ground/context';
import { refuse } from '../../ground/http/problem';
import { products } from '../../ground/tables/catalogue';
import { funnels, funnelSteps } from '../../ground/tables/products';
import { detailsOf } from '../../registers/catalogue/details';
import { type ProductRecord } from '../../registers/catalogue/store';
import { affiliateNames } from '../../registers/people/names';
import { isPromoting } from '../../registers/people/promoting';
import { theProgramme } from '../../registers/programme/record';
import { datedChanges, openDraft } from './draft-store';
import { firstEvent } from './service';
import { countMembers } from './sets';
import { indexed, setsInUse, theTerms, type SetRecord, type Terms } from './store';
import { tagOrder } from './tag-order';
import { kindWords } from './words';

interface NamedColumn {
  column: Column;
  of: Column['of'];
  id: Id<'affiliate' | 'set'> | '';
  name: string;
}
interface NamedRow {
  row: Row;
  of: What['type'];
  id: string;
  name: string;
  code: string;
  kind: string;
  state: string;
  indent: boolean;
  lockable: boolean;
  /** nobody may promote it now */ closed?: boolean;
}

function columnsOf(app: App, ids: Id<'affiliate'>[], at: number): NamedColumn[] {
  const order = tagOrder(app);
  const place = { card: 0, group: 1, tag: 2 };
  const rank = (s: SetRecord) => (s.of === 'tag' ? order.indexOf(s.id) : s.standard ? -1 : 0);
  const sorted = setsInUse(app).sort(
    (a, b) => place[a.of] - place[b.of] || rank(a) - rank(b) || a.name.localeCompare(b.name),
  );
  const names = affiliateNames(app, ids);
  return [
    { column: { of: 'everyone' }, of: 'everyone', id: '', name: 'Everyone' },
    ...sorted.map((s): NamedColumn => ({ column: { of: s.of, id: s.id }, of: s.of, id: s.id, name: s.name })),
    ...ids
      .filter((id) => names.has(id))
      .map((id): NamedColumn => ({
        column: { of: 'affiliate', id, terms: termsAt(theTerms(app).roll, id, at) },
        of: 'affiliate',
        id,
        name: names.get(id)!,
      })),
  ];
}

/** Whether a kind of product has such an event at all. */
function has(kind: string, event: Event): boolean {
  if (event === 'renewal') return kind === 'recurring' || kind === 'instalments';
  return event === 'click' || (event === 'lead') === (firstEvent(kind) === 'lead');
}

function productRow(p: ProductRecord, event: Event, at: number): NamedRow {
  return {
    row: { what: { type: 'product', product: p.id }, sold: { product: p.id, kind: p.kind } },
    of: 'product',
    id: p.id,
    name: p.name,
    code: p.code,
    kind: p.kind,
    state: p.state,
    indent: false,
    lockable: event === 'sale' || event === 'renewal',
    closed: !isOpenToAffiliates(detailsOf(p), at),
  };
}

const noRow = { id: '', code: '', kind: '', state: '', indent: false, lockable: false };

const kindRow = (kind: string): NamedRow => ({
  ...noRow,
  row: { what: { type: 'kind', kind }, sold: null },
  of: 'kind',
  id: kind,
  name: `All ${kindWords[kind] ?? kind}`,
});

const everythingRow: NamedRow = {
  ...noRow,
  row: { what: { type: 'everything' }, sold: null },
  of: 'everything',
  name: 'Everything',
};

/** A step of a funnel beneath the product that opens it. */
function stepRow(
  code: string,
  { offered, opening }: { offered: ProductRecord; opening: ProductRecord },
  at: number,
): NamedRow {
  const sold: Sold = { product: offered.id, kind: offered.kind, step: code };
  return {
    row: { what: { type: 'step', step: code }, sold },
    of: 'step',
    id: code,
    name: offered.name,
    code,
    kind: opening.kind,
    state: opening.state,
    indent: true,
    lockable: false,
    closed: !isOpenToAffiliates(detailsOf(offered), at),
  };
}

/** Opening products of the funnels there are, by funnel. */
const openings = (app: App) =>
  new Map(
    app.db
      .select()
      .from(funnels)
      .where(isNull(funnels.removedAt))
      .all()
      .map((f) => [f.id, f.opening]),
  );

/** Products by kind with the steps of their funnels beneath, then each kind, then everything. */
function rowsOf(
  app: App,
  { event, retired, at }: { event: Event; retired: boolean; at: number },
): NamedRow[] {
  const all = app.db
    .select()
    .from(products)
    .orderBy(products.name)
    .all()
    .filter((p) => (retired || p.state !== 'retired') && has(p.kind, event));
  const known = new Map(all.map((p) => [p.id, p]));
  const opening = openings(app);
  const steps = app.db.select().from(funnelSteps).orderBy(funnelSteps.position).all();
  const withSteps = (p: ProductRecord): NamedRow[] => [
    productRow(p, event, at),
    ...steps
      .filter((s) => opening.get(s.funnel) === p.id && known.has(s.product))
      .map((s) => stepRow(s.code, { offered: known.get(s.product)!, opening: p }, at)),
  ];
  const kinds = productKinds.filter((kind) => all.some((p) => p.kind === kind));
  return [
    ...kinds.flatMap((kind) => all.filter((p) => p.kind === kind).flatMap(withSteps)),
    ...kinds.map(kindRow),
    everythingRow,
  ];
}

/** The draft's changes as if they began at the moment shown, so that the book shows them whenever they are to begin. */
export function shown(changes: Change[], at: number): Change[] {
  return changes.map((c): Change => {
    if (c.op !== 'add') return { ...c, at: Math.min(c.at, at) };
    return { op: 'add', rate: { ...c.rate, from: Math.min(c.rate.from, at) } };
  });
}

/** The moment of a day that the book is shown as of: now for today, else the first moment of the day. */
function momentShown(app: App, day: string | undefined): { at: number; today: boolean } {
  const { zone } = theProgramme(app);
  const now = app.clock.now();
  if (day === undefined || day === dayOf(now, zone)) return { at: now, today: true };
  if (!isDay(day)) throw refuse('day', 'Day is not a day of the calendar', dayOf(now, zone));
  return { at: startOfDay(day, zone), today: false };
}

/** How many each column is for: everyone, the members of a set, or one. */
function memberCounts(app: App, columns: NamedColumn[], at: number): Map<string, number> {
  const counts = countMembers(app, at);
  const everyone = app.sqlite
    .prepare<[], number>(`SELECT count(*) FROM affiliates a WHERE ${isPromoting('a')}`)
    .pluck()
    .get()!;
  counts.set('', everyone);
  for (const c of columns) if (c.of === 'affiliate') counts.set(c.id, 1);
  return counts;
}

/** When the terms of a column change next: the first start or end to come of a rate that is for it. */
function nextChange(rates: readonly Rate[], column: Column, at: number): number | null {
  const who = column.of === 'everyone' ? null : column.id;
  const moments = rates
    .filter((r) => r.who === who)
    .flatMap((r) => [r.from, ...(r.until === null ? [] : [r.until])])
    .filter((m) => m > at);
  return moments.length ? Math.min(...moments) : null;
}

/** The rate book: every effective rate as of a day, with the open draft of the one who looks shown in it. */
export function readRateBook(app: App, actor: Actor, query: QueryOf<typeof Read>): RateBookOut {
  const { base } = theProgramme(app);
  const event = query.event ?? 'sale';
  const payment = query.payment ?? (event === 'renewal' ? 2 : 1);
  const { at, today } = momentShown(app, query.day);
  const now = theTerms(app);
  const draft = actor.kind === 'staff' ? openDraft(app, actor) : null;
  const drafted = draft ? indexed(applyDraft(now.data, shown(datedChanges(app, draft), at))) : null;
  const columns = columnsOf(
    app,
    (query.affiliates ?? '')
      .split(',')
      .filter((id) => isId(id, 'affiliate'))
      .slice(0, 8),
    at,
  );
  const counts = memberCounts(app, columns, at);
  return {
    at,
    today,
    columns: columns.map(({ column, of: kind, id, name }) => ({
      of: kind,
      id,
      name,
      members: counts.get(id) ?? 0,
      paused: kind === 'group' && (termsOfColumn(column, now.roll, at).group?.paused ?? false),
      next: nextChange(now.data.rates, column, at),
    })),
    rows: rowsOf(app, { event, retired: query.retired ?? false, at }).map(({ row, closed, ...named }) => ({
      ...named,
      locked: named.lockable && isLocked(now.roll, named.id, event, at),
      cells: columns.map(({ column }) => {
        const own = cellOf(now.book, now.roll, { column, row, event, payment, at, currency: base });
        const later = drafted
          ? cellOf(drafted.book, drafted.roll, { column, row, event, payment, at, currency: base })
          : own;
        if (closed)
          return {
            text: '—',
            full: 'nobody may promote it now',
            from: 'nothing' as const,
            rate: own.rate?.id ?? null,
            locked: own.locked,
            uplift: null,
            was: null,
          };
        const show = later.full !== own.full || later.locked !== own.locked ? later : own;
        return {
          text: show.text,
          full: show.full,
          from: show.from,
          rate: show.rate?.id ?? null,
          locked: show.locked,
          uplift: show.uplift ? { label: show.uplift.label, until: show.uplift.until } : null,
          was: show === own ? null : own.full,
        };
      }),
    })),
  };
}

export function aboutColumn(app: App, column: Column, terms: Terms, at: number): string[] {
  const names = new Map(setsInUse(app).map((s) => [s.id, s.name]));
  const own = termsOfColumn(column, terms.roll, at);
  const parts =
    column.of === 'affiliate'
      ? [
          own.card ? `card ${names.get(own.card) ?? ''}` : '',
          own.group
            ? `group ${names.get(own.group.id) ?? ''}${own.group.paused ? ', paused' : ''}`
            : 'in no group',
          own.tags.length ? `tags ${own.tags.map((t) => names.get(t) ?? t).join(', ')}` : 'no tags',
        ]
      : [];
  return parts.filter(Boolean);
}
