import type { Rate } from '../../../core/terms/rate';
import { rehearsal, type PastLine, type PastOrder, type RehearsalResult } from '../../../core/terms/rehearse';
import type { Id } from '../../../core/text/id';
import { type Sqlite } from '../../ground/db/sqlite';
import type { RehearsalJob } from '../../ground/ports';
import { indexed } from './store';

type Row = [
  order: number,
  affiliate: Id<'affiliate'>,
  at: number,
  unusual: string | null,
  product: Id<'product'>,
  more: string | null,
  amount: number,
  discount: number,
  stored: number,
];

// a value costs more on its way into JavaScript than finding the row it is of: what is nearly always the same is one null, and an order goes by its row's number
const unusual =
  "CASE WHEN o.event = 'sale' AND o.number = 1 AND o.currency = ? AND o.rate_micros = 1000000 THEN NULL ELSE o.event || ' ' || o.number || ' ' || o.currency || ' ' || o.rate_micros END";
const more =
  "CASE WHEN l.step IS NULL AND l.quantity = 1 AND l.approved THEN NULL ELSE l.quantity || ' ' || l.approved || ' ' || coalesce(l.step, '') END";
const columns = `o.rowid, o.affiliate, coalesce(o.resolved_at, o.placed_at), ${unusual}, l.product, ${more}, l.amount, l.discount, l.commission`;
const credited = 'o.affiliate IS NOT NULL AND o.test = 0';

type Kinds = Map<string, { id: Id<'product'>; name: string; kind: string }>;

interface OfOrder {
  event: PastOrder['event'];
  payment: number;
  currency: string;
  rateMicros: number;
}
interface OfLine {
  quantity: number;
  approved: boolean;
  step: string | null;
}

function ofOrder(text: string | null, usual: OfOrder): OfOrder {
  if (text === null) return usual;
  const [event, payment, currency, rateMicros] = text.split(' ');
  return {
    event: event as OfOrder['event'],
    payment: Number(payment),
    currency: currency!,
    rateMicros: Number(rateMicros),
  };
}

const usualLine: OfLine = { quantity: 1, approved: true, step: null };

function ofLine(text: string | null): OfLine {
  if (text === null) return usualLine;
  const [quantity, approved, step] = text.split(' ');
  return { quantity: Number(quantity), approved: approved === '1', step: step === '' ? null : step! };
}

/** What payments of one order have in common, by the row numbers of those that were paid in several. */
type Wholes = ReadonlyMap<number, string>;

/**
 * Orders that were paid in several payments, and instalments. Caps count once for all payments of such a one; where no
 * rate has a cap, nothing has to be looked for.
 */
function wholesOf(sqlite: Sqlite, rates: readonly Rate[]): Wholes {
  if (rates.every(({ cap }) => cap === null)) return new Map();
  const rows = sqlite
    .prepare(
      `SELECT o.rowid, 'order ' || o.reference FROM orders o
       WHERE o.event = 'sale' AND o.reference IN (SELECT reference FROM orders WHERE event = 'sale' AND number > 1)
       UNION ALL SELECT o.rowid, 'plan ' || o.subscription FROM subscriptions s JOIN products p ON p.id = s.product AND p.kind = 'instalments'
         JOIN orders o ON o.subscription = s.reference AND o.event = 'renewal'`,
    )
    .raw()
    .all() as [number, string][];
  return new Map(rows);
}

interface Around {
  kinds: Kinds;
  base: string;
  wholes: Wholes;
}

/** An order as its first row says it; its lines are put in as they come. */
function orderOf(
  r: Row,
  { usual, wholes, lines }: { usual: OfOrder; wholes: Wholes; lines: PastLine[] },
): PastOrder {
  const whole = wholes.get(r[0]);
  const order = { id: String(r[0]), affiliate: r[1], ...ofOrder(r[3], usual), at: r[2], lines };
  return whole === undefined ? order : { ...order, whole };
}

/** Puts rows of orders joined with their lines together again and hands each on; `id` is the order's row number as text. */
function eachOrder(
  rows: readonly Row[],
  { kinds, base, wholes }: Around,
  take: (order: PastOrder) => void,
): void {
  const usual: OfOrder = { event: 'sale', payment: 1, currency: base, rateMicros: 1_000_000 };
  let lines: PastLine[] = [];
  let order: PastOrder | null = null;
  let row = -1;
  for (let i = 0; i < rows.length; i += 1) {
    const r = rows[i]!;
    if (r[0] !== row || order === null) {
      if (order) take(order);
      row = r[0];
      lines = [];
      order = orderOf(r, { usual, wholes, lines });
    }
    const known = kinds.get(r[4]);
    const { quantity, approved, step } = ofLine(r[5]);
    // the names of products are said from the list of products: one text for all of their lines
    lines.push({
      product: known?.id ?? r[4],
      name: known?.name ?? r[4],
      kind: known?.kind ?? '',
      step,
      quantity,
      amount: r[6],
      discount: r[7],
      approved,
      stored: r[8],
    });
  }
  if (order) take(order);
}

function kindsOf(sqlite: Sqlite): Kinds {
  const rows = sqlite.prepare('SELECT id, name, kind FROM products').all() as {
    id: Id<'product'>;
    name: string;
    kind: string;
  }[];
  return new Map(rows.map((r) => [r.id, r]));
}

const chunk = 16384;

interface Past {
  base: string;
  /** days, both inclusive */
  from: string;
  to: string;
  take: (order: PastOrder) => void;
  /** takes the payments before the span of orders that were paid in several */
  before?: (order: PastOrder) => void;
  /** those whose caps count once for all payments of an order */
  rates?: readonly Rate[];
}

/** Hands on the payments before a day of orders that were paid in several, in the order in which they were recorded. */
function eachPaymentBefore(
  sqlite: Sqlite,
  { around, from, before }: { around: Around; from: string; before: (order: PastOrder) => void },
): void {
  if (around.wholes.size === 0) return;
  const rows = sqlite
    .prepare<unknown[], Row>(
      `SELECT ${columns} FROM json_each(?) j JOIN orders o ON o.rowid = j.value CROSS JOIN order_lines l ON l.order_id = o.id WHERE o.day < ? AND ${credited} ORDER BY o.rowid, l.position`,
    )
    .raw()
    .all(around.base, JSON.stringify([...around.wholes.keys()]), from) as Row[];
  eachOrder(rows, around, before);
}

/** Hands on every credited order of a span of days, both inclusive, with its lines, in the order in which they were recorded. */
export function eachPastOrder(sqlite: Sqlite, { base, from, to, take, before, rates = [] }: Past): void {
  const around = { kinds: kindsOf(sqlite), base, wholes: wholesOf(sqlite, rates) };
  if (before) eachPaymentBefore(sqlite, { around, from, before });
  const [first, last] = sqlite
    .prepare('SELECT min(rowid), max(rowid) FROM orders WHERE day BETWEEN ? AND ?')
    .raw()
    .get(from, to) as [number | null, number | null];
  if (first === null || last === null) return;
  // a piece at a time, read whole: stepping row by row from JavaScript costs more than the rows
  const piece = sqlite
    .prepare<unknown[], Row>(
      `SELECT ${columns} FROM orders o CROSS JOIN order_lines l ON l.order_id = o.id WHERE o.rowid BETWEEN ? AND ? AND o.day BETWEEN ? AND ? AND ${credited} ORDER BY o.rowid, l.position`,
    )
    .raw();
  for (let at = first; at <= last; at += chunk)
    eachOrder(piece.all(base, at, Math.min(last, at + chunk - 1), from, to) as Row[], around, take);
}

/** The payments before one of the same order, where it was paid in several, in the order in which they were recorded. */
export function earlierPayments(
  sqlite: Sqlite,
  base: string,
  { id, event }: { id: Id<'order'>; event: PastOrder['event'] },
): PastOrder[] {
  const same =
    event === 'sale'
      ? "o.reference = w.reference AND o.event = 'sale'"
      : "o.subscription = w.subscription AND o.event = 'renewal' AND EXISTS (SELECT 1 FROM subscriptions s JOIN products p ON p.id = s.product WHERE s.reference = w.subscription AND p.kind = 'instalments')";
  const rows = sqlite
    .prepare<unknown[], Row>(
      `SELECT ${columns} FROM orders w JOIN orders o ON o.rowid < w.rowid AND ${same} CROSS JOIN order_lines l ON l.order_id = o.id WHERE w.id = ? AND ${credited} ORDER BY o.rowid, l.position`,
    )
    .raw()
    .all(base, id) as Row[];
  const orders: PastOrder[] = [];
  eachOrder(rows, { kinds: kindsOf(sqlite), base, wholes: new Map() }, (o) => orders.push(o));
  return orders;
}

/** The latest credited orders, about so many lines. */
export function latestOrders(sqlite: Sqlite, base: string, lines: number): PastOrder[] {
  const rows = sqlite
    .prepare(
      `SELECT ${columns} FROM (SELECT rowid, * FROM orders o WHERE ${credited} ORDER BY o.placed_at DESC, o.id DESC LIMIT ?) o CROSS JOIN order_lines l ON l.order_id = o.id`,
    )
    .raw()
    .all(base, lines) as Row[];
  const orders: PastOrder[] = [];
  const around = { kinds: kindsOf(sqlite), base, wholes: new Map() };
  eachOrder(rows.slice(0, lines * 2), around, (o) => orders.push(o));
  return orders;
}

export function countOrders(sqlite: Sqlite, from: string, to: string): number {
  return sqlite
    .prepare(`SELECT count(*) FROM orders o WHERE o.day BETWEEN ? AND ? AND ${credited}`)
    .pluck()
    .get(from, to) as number;
}

const told = 5000;

/** Replays a span of days under the terms of a job, on whatever connection it is given. */
export function replay(
  sqlite: Sqlite,
  job: RehearsalJob,
  progress: (done: number, total: number) => void,
): RehearsalResult {
  const { book, roll } = indexed(job.terms);
  const run = rehearsal(book, roll, job.base);
  const total = countOrders(sqlite, job.from, job.to);
  let done = 0;
  progress(0, total);
  eachPastOrder(sqlite, {
    ...{ base: job.base, from: job.from, to: job.to, rates: job.terms.rates },
    before: (order) => run.before(order),
    take: (order) => {
      run.take(order);
      done += 1;
      if (done % told === 0) progress(done, total);
    },
  });
  progress(done, total);
  const result = run.result();
  const idOf = sqlite.prepare('SELECT id FROM orders WHERE rowid = ?').pluck();
  return {
    ...result,
    most: result.most.map((m) => ({ ...m, order: idOf.get(Number(m.order)) as Id<'order'> })),
  };
}
