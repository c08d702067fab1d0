import { and, eq, inArray, ne } from 'drizzle-orm';
import { addZonedDays } from '../../../core/calendar/zone';
import { adjustedAfter, clearingMoment, takenBack } from '../../../core/ledger/commission';
import { sharesOf, sharesOnRest } from '../../../core/terms/shares';
import type { Id } from '../../../core/text/id';
import { type Actor, type App } from '../../ground/context';
import { insertion, perApp, rowsBy } from '../../ground/db/prepared';
import { shareLines } from '../../ground/tables/crediting';
import { commissions } from '../../ground/tables/ledger';
import { affiliates } from '../../ground/tables/people';
import { grantCommission, noteAdjusted, reverseCommission } from '../../ledger/journal';
import { shareNames, type ShareKind } from '../../ledger/share-names';
import { wasBlocked } from '../../registers/people/blocked';
import { theProgramme } from '../../registers/programme/record';
import { ownersAt } from '../../setup/terms/coowners';
import { referralAt } from '../../setup/terms/referrals';

type ShareRow = typeof shareLines.$inferSelect;
type CommissionRow = typeof commissions.$inferSelect;
const statements = perApp((app) => ({
  state: rowsBy(app, affiliates, ['id'], { only: ['state', 'blockedAt'] }),
  line: insertion(app, shareLines),
}));

/** Somebody blocked or gone earns no share of later sales. */
function mayEarn(app: App, payee: Id<'affiliate'>, at: number): boolean {
  const who = statements(app).state.get(payee);
  if (who?.state === 'blocked') return !wasBlocked(who, at);
  return who?.state === 'active' || who?.state === 'paused';
}

export interface SharedOrder {
  id: Id<'order'>;
  reference: string;
  affiliate: Id<'affiliate'> | null;
  at: number;
  refundDays: number;
}

export const keyOf = (kind: string, payee: string) => `${kind}:${payee}`;

/** What is shared of a line of an order: its value, and what its affiliate earns by it. Minor units of base. */
export interface SharedLine {
  product: Id<'product'>;
  base: number;
  commission: number;
}

/** What somebody's share of an order comes to, minor units of base. */
export interface ShareSum {
  kind: ShareKind;
  payee: Id<'affiliate'>;
  amount: number;
}

/** Writes the shares of each line, and sums them by who has them. */
export function writeShareLines(
  app: App,
  order: SharedOrder,
  lines: readonly SharedLine[],
): Map<string, ShareSum> {
  const found = order.affiliate === null ? null : referralAt(app, order.affiliate, order.at);
  const referral = found && mayEarn(app, found.by, order.at) ? found : null;
  const sums = new Map<string, ShareSum>();
  lines.forEach(({ product, base, commission }, position) => {
    const owners = ownersAt(app, product, order.at).filter((o) => mayEarn(app, o.payee, order.at));
    for (const share of sharesOf(base, commission, commission > 0 ? referral : null, owners)) {
      if (share.amount <= 0) continue;
      statements(app).line.run({ order: order.id, position, ...share, left: share.amount });
      const { kind, payee } = share;
      const key = keyOf(kind, payee);
      sums.set(key, { kind, payee, amount: (sums.get(key)?.amount ?? 0) + share.amount });
    }
  });
  return sums;
}

/** Grants one share of an order: it always waits for the refund window. */
export function grantShare(
  app: App,
  actor: Actor,
  order: SharedOrder,
  { kind, payee, amount }: ShareSum,
): void {
  const { zone, bufferDays } = theProgramme(app);
  const { at, refundDays } = order;
  grantCommission(
    app,
    actor,
    {
      ...{ order: order.id, affiliate: payee, kind, granted: amount, timing: 'after-hold', soldAt: at },
      clearsAt: clearingMoment(at, { timing: 'after-hold', refundDays, bufferDays, zone }),
      refundableUntil: addZonedDays(at, refundDays, zone),
    },
    {
      once: `granted:${order.id}:${keyOf(kind, payee)}`,
      memo: `Order ${order.reference}, ${shareNames[kind]}`,
    },
  );
}

/**
 * Grants the shares of a sale beside its commission: to the one who brought its affiliate in, where the affiliate earned, and to
 * co-owners of what was sold. Call inside the transaction of the order.
 */
export function grantShares(app: App, actor: Actor, order: SharedOrder, lines: readonly SharedLine[]): void {
  for (const share of writeShareLines(app, order, lines).values()) grantShare(app, actor, order, share);
}

/** What is left of each line after a refund, minor units of base. */
export interface LineLeft {
  base: number;
  left: number;
  commissionLeft: number;
}

/** The referral's share came first, the co-owners' of what it left. */
const inOrderOfGranting = (a: ShareRow, b: ShareRow): number =>
  Number(a.kind === 'co-owner') - Number(b.kind === 'co-owner') || (a.payee < b.payee ? -1 : 1);

function writeLeft(app: App, { order, position, kind, payee }: ShareRow, left: number): void {
  app.db
    .update(shareLines)
    .set({ left })
    .where(
      and(
        eq(shareLines.order, order),
        eq(shareLines.position, position),
        eq(shareLines.kind, kind),
        eq(shareLines.payee, payee),
      ),
    )
    .run();
}

/** What each line's shares have left once some of its value was given back. */
function restsOf(rows: readonly ShareRow[], lines: readonly LineLeft[]): { row: ShareRow; next: number }[] {
  return lines.flatMap(({ base, left, commissionLeft }, position) => {
    const own = rows.filter((r) => r.position === position).sort(inOrderOfGranting);
    const rests = sharesOnRest(
      own.map((r) => r.amount),
      base,
      left,
      commissionLeft,
    );
    return own.map((row, i) => ({ row, next: Math.min(row.left, rests[i]!) }));
  });
}

const shareRows = (app: App, order: Id<'order'>): ShareRow[] =>
  app.db.select().from(shareLines).where(eq(shareLines.order, order)).all();

/** What the shares of an order will have left by their rates, once some of its value was given back, minor units of base. */
export const sharesLeftAfter = (app: App, order: Id<'order'>, lines: readonly LineLeft[]): number =>
  restsOf(shareRows(app, order), lines).reduce((sum, { next }) => sum + next, 0);

/** Writes what is left of each line's shares. @returns what each payee loses, minor units of base */
function lowerLines(app: App, rows: ShareRow[], lines: readonly LineLeft[]): Map<string, number> {
  const lost = new Map<string, number>();
  for (const { row, next } of restsOf(rows, lines)) {
    if (next === row.left) continue;
    writeLeft(app, row, next);
    const key = keyOf(row.kind, row.payee);
    lost.set(key, (lost.get(key) ?? 0) + row.left - next);
  }
  return lost;
}

/**
 * Takes shares back in the proportion of the value that was given back. Call inside the transaction of the refund.
 * @param room what corrections of shares may still add, minor units of base
 */
export function reverseShares(
  app: App,
  actor: Actor,
  order: Id<'order'>,
  {
    lines,
    room,
    refund,
  }: { lines: readonly LineLeft[]; room: number; refund: { id: Id<'refund'>; memo: string } },
): void {
  const rows = shareRows(app, order);
  if (!rows.length) return;
  const lost = lowerLines(app, rows, lines);
  const nothingLeft = lines.every((l) => l.left === 0);
  const left = leftBy(app, order);
  let rest = room;
  for (const row of sharesIn(app, order)) {
    const key = keyOf(row.kind, row.affiliate);
    const reversed = lost.get(key) ?? 0;
    if (reversed === 0 && !nothingLeft && row.adjusted <= rest) {
      rest -= Math.max(0, row.adjusted);
      continue;
    }
    const before = {
      standing: row.held + row.cleared + row.inRun + row.paid,
      adjusted: row.adjusted,
      givenUp: row.givenUp,
      declined: row.declined !== null,
      reversed,
      linesLeft: left.get(key) ?? 0,
      room: rest,
      nothingLeft,
    };
    const taken = takenBack(before);
    const adjusted = adjustedAfter(before);
    rest -= Math.max(0, adjusted);
    noteAdjusted(app, row.id, adjusted);
    if (taken > 0)
      reverseCommission(app, actor, row, {
        amount: taken,
        once: `refund:${refund.id}:${key}`,
        memo: `${refund.memo}, ${shareNames[row.kind as ShareKind]}`,
        more: { refund: refund.id },
      });
  }
}

function leftBy(app: App, order: Id<'order'>): Map<string, number> {
  const sums = new Map<string, number>();
  for (const r of app.db.select().from(shareLines).where(eq(shareLines.order, order)).all())
    sums.set(`${r.kind}:${r.payee}`, (sums.get(`${r.kind}:${r.payee}`) ?? 0) + r.left);
  return sums;
}

/** The shares of an order as they stand, the referral's first. */
export function sharesIn(app: App, order: Id<'order'>): CommissionRow[] {
  return app.db
    .select()
    .from(commissions)
    .where(and(eq(commissions.order, order), ne(commissions.kind, 'commission')))
    .all()
    .sort((a, b) => (a.kind > b.kind ? -1 : a.kind < b.kind ? 1 : a.id < b.id ? -1 : 1));
}

/** The lines that a share is made of. */
export function shareLinesOf(
  app: App,
  order: Id<'order'>,
  kind: ShareKind,
  payee: Id<'affiliate'>,
): ShareRow[] {
  return app.db
    .select()
    .from(shareLines)
    .where(and(eq(shareLines.order, order), eq(shareLines.kind, kind), eq(shareLines.payee, payee)))
    .orderBy(shareLines.position)
    .all();
}

/** Sums of shares by order and kind, as they stand, for lists. */
export function shareSums(app: App, orders: Id<'order'>[]): Map<string, Record<ShareKind, number>> {
  const sums = new Map<string, Record<ShareKind, number>>();
  if (!orders.length) return sums;
  for (const c of app.db
    .select()
    .from(commissions)
    .where(and(inArray(commissions.order, orders), ne(commissions.kind, 'commission')))
    .all()) {
    const row = sums.get(c.order) ?? { referral: 0, 'co-owner': 0 };
    row[c.kind as ShareKind] += c.held + c.cleared + c.inRun + c.paid;
    sums.set(c.order, row);
  }
  return sums;
}
