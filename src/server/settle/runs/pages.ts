import { and, eq, inArray, like, lt, or, sql } from 'drizzle-orm';
import type { QueryOf } from '../../../contract/endpoint';
import type {
  listLeftOut as LeftOutCall,
  LeftOutRow,
  LeftOutSum,
  PaymentRow,
  listRunPayments as PaymentsCall,
} from '../../../contract/settle/payouts';
import { formatMoney } from '../../../core/money/amount';
import { byReason, whyLeftOut, type Out, type OutReason, type RunPlan } from '../../../core/payouts/plan';
import { describePayment } from '../../../core/payouts/status';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { afterCursor, anywhere, cut, inOrder, readCursor, unknownPage } from '../../ground/db/page';
import { commissions } from '../../ground/tables/ledger';
import { affiliates } from '../../ground/tables/people';
import { paymentItems, payments } from '../../ground/tables/runs';
import { namesOf } from '../../registers/access/names';
import { maskedIban } from '../../registers/people/record';
import { theProgramme } from '../../registers/programme/record';
import type { RunRecord } from './runs';

interface Page<T> {
  rows: T[];
  next: string | null;
}

const usual = 100;

/** A draft that was approved meanwhile is another list: its cursors are none of ours any more. @throws Problem `invalid` */
function cursorOf(after: string, kind: 'number' | 'string'): [number, string] {
  const [place, last] = readCursor(after);
  if (typeof place !== kind || (typeof place === 'number' && !(Number.isInteger(place) && place >= 0)))
    throw unknownPage();
  return [Number(place), last];
}

/** A page of a list that is made anew with each question: behind the row that was last, or behind its place where it has gone. */
function pageOf<T>(
  rows: readonly T[],
  idOf: (row: T) => string,
  after: string | undefined,
  limit = usual,
): Page<T> {
  const [place, last] = after === undefined ? [0, ''] : cursorOf(after, 'number');
  const found = last === '' ? -1 : rows.findIndex((r) => idOf(r) === last);
  const from = found >= 0 ? found + 1 : place;
  const shown = rows.slice(from, from + limit);
  const end = from + shown.length;
  return {
    rows: shown,
    next:
      end < rows.length
        ? Buffer.from(JSON.stringify([end, idOf(shown.at(-1)!)])).toString('base64url')
        : null,
  };
}

/** How many commissions each of some payees brings to a draft. */
function itemCounts(app: App, run: RunRecord, payees: Id<'affiliate'>[]): Map<string, number> {
  const brought = and(
    inArray(commissions.affiliate, payees),
    sql`${commissions.cleared} <> 0`,
    or(lt(commissions.clearsAt, run.cutoff), lt(commissions.cleared, 0)),
  );
  return new Map(
    app.db
      .select({ id: commissions.affiliate, n: sql<number>`count(*)` })
      .from(commissions)
      .where(brought)
      .groupBy(commissions.affiliate)
      .all()
      .map((r) => [r.id, r.n]),
  );
}

function proposed(
  app: App,
  run: RunRecord,
  plan: RunPlan,
  query: QueryOf<typeof PaymentsCall>,
): Page<PaymentRow> {
  const { base } = theProgramme(app);
  const q = query.q?.trim().toLowerCase() ?? '';
  // nothing of a draft has a state yet
  const fitting = query.state
    ? []
    : q
      ? plan.payments.filter((p) => p.name.toLowerCase().includes(q))
      : plan.payments;
  const { rows, next } = pageOf(fitting, (p) => p.affiliate, query.after, query.limit);
  const ids = rows.map((p) => p.affiliate);
  const details = new Map(
    app.db
      .select({ id: affiliates.id, holder: affiliates.payeeHolder, iban: affiliates.payeeIban })
      .from(affiliates)
      .where(inArray(affiliates.id, ids))
      .all()
      .map((a) => [a.id, a]),
  );
  const items = itemCounts(app, run, ids);
  return {
    next,
    rows: rows.map((p) => ({
      id: null,
      affiliate: p.affiliate,
      name: p.name,
      amount: { amount: p.amount, currency: base },
      items: items.get(p.affiliate) ?? 0,
      holder: details.get(p.affiliate)?.holder ?? '',
      iban: maskedIban(details.get(p.affiliate)?.iban ?? ''),
      state: 'proposed',
      reason: null,
    })),
  };
}

const keyset = { by: affiliates.name, id: payments.id, order: 'asc' } as const;

function stored(app: App, run: RunRecord, query: QueryOf<typeof PaymentsCall>): Page<PaymentRow> {
  const { base } = theProgramme(app);
  const pattern = query.q?.trim() ? anywhere(query.q.trim()) : null;
  if (query.after !== undefined) cursorOf(query.after, 'string');
  const found = app.db
    .select({ p: payments, name: affiliates.name })
    .from(payments)
    .innerJoin(affiliates, eq(affiliates.id, payments.affiliate))
    .where(
      and(
        eq(payments.run, run.id),
        query.state ? eq(payments.state, query.state) : undefined,
        afterCursor(keyset, query.after),
        pattern
          ? or(
              ...[affiliates.name, payments.holder, payments.endToEnd].map(
                (c) => sql`${like(c, pattern)} ESCAPE '\\'`,
              ),
            )
          : undefined,
      ),
    )
    .orderBy(...inOrder(keyset))
    .limit((query.limit ?? usual) + 1)
    .all();
  const { rows, next } = cut(found, query.limit ?? usual, (r) => [r.name, r.p.id]);
  const items = new Map(
    app.db
      .select({ id: paymentItems.payment, n: sql<number>`count(*)` })
      .from(paymentItems)
      .where(
        inArray(
          paymentItems.payment,
          rows.map((r) => r.p.id),
        ),
      )
      .groupBy(paymentItems.payment)
      .all()
      .map((r) => [r.id, r.n]),
  );
  return {
    next,
    rows: rows.map(({ p, name }) => ({
      id: p.id,
      affiliate: p.affiliate,
      name,
      amount: { amount: p.amount, currency: base },
      items: items.get(p.id) ?? 0,
      holder: p.holder,
      iban: maskedIban(p.iban),
      state: p.state,
      reason: p.reason === null ? null : describePayment(p.reason),
    })),
  };
}

/** The payees of a run, by name: those of a draft as they would be paid now. @param plan the outline of a draft, null for what is fixed */
export function paymentsOfRun(
  app: App,
  run: RunRecord,
  plan: RunPlan | null,
  query: QueryOf<typeof PaymentsCall> = {},
): Page<PaymentRow> {
  return plan ? proposed(app, run, plan, query) : stored(app, run, query);
}

/** What is cleared for those whom a person left out, up to the cut-off. */
function clearedOf(app: App, run: RunRecord): Map<string, number> {
  const brought = and(
    inArray(commissions.affiliate, run.excluded),
    or(lt(commissions.clearsAt, run.cutoff), lt(commissions.cleared, 0)),
  );
  return new Map(
    app.db
      .select({ id: commissions.affiliate, n: sql<number>`sum(${commissions.cleared})` })
      .from(commissions)
      .where(brought)
      .groupBy(commissions.affiliate)
      .all()
      .map((r) => [r.id, r.n]),
  );
}

function allLeftOut(app: App, run: RunRecord, plan: RunPlan): Out[] {
  const name = namesOf(app, run.excluded);
  const cleared = clearedOf(app, run);
  return [
    ...run.excluded.map((a): Out => ({
      affiliate: a,
      name: name(a),
      amount: cleared.get(a) ?? 0,
      reason: 'by-hand',
    })),
    ...plan.leftOut,
  ];
}

const said: Record<OutReason, string> = {
  'by-hand': 'left out by a person',
  'no-details': 'no valid payout details',
  policy: 'the policy in force is not accepted',
  blocked: 'blocked',
  negative: 'a negative balance',
  nothing: 'commissions and reversals cancel out',
  'below-minimum': 'below the minimum',
};

/** Who is left out of a draft and why, those first about whom something can be done; the sums by reason. */
export function leftOutOfRun(
  app: App,
  run: RunRecord,
  plan: RunPlan | null,
  query: QueryOf<typeof LeftOutCall> = {},
): Page<LeftOutRow> & { sums: LeftOutSum[] } {
  if (!plan) return { rows: [], next: null, sums: [] };
  const { base } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const reasons = byReason(allLeftOut(app, run, plan));
  const { rows, next } = pageOf(
    reasons.filter((r) => !query.reason || r.reason === query.reason).flatMap((r) => r.rows),
    (l) => l.affiliate,
    query.after,
    query.limit,
  );
  return {
    next,
    sums: reasons.map((r): LeftOutSum => ({
      reason: r.reason,
      said: said[r.reason],
      count: r.rows.length,
      amount: money(r.sum),
    })),
    rows: rows.map((l) => ({
      affiliate: l.affiliate,
      name: l.name,
      amount: money(l.amount),
      why: whyLeftOut(l, run.minimum, (amount) => formatMoney(money(amount))),
      reason: l.reason,
      byHand: l.reason === 'by-hand',
    })),
  };
}
