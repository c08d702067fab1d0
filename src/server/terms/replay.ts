import type { PastLine, PastOrder, RehearsalResult } from '../../core/terms/rehearse';
import { rehearsal } from '../../core/terms/rehearse';
import type { Sqlite } from '../db/open';
import type { RehearsalJob } from '../ports';
import { indexed } from './store';

type Row = [id: string, affiliate: string, event: PastOrder['event'], number: number, at: number, currency: string, rateMicros: number, product: string, step: string | null, quantity: number, amount: number, discount: number, approved: number, stored: number];

const columns = 'o.id, o.affiliate, o.event, o.number, coalesce(o.resolved_at, o.placed_at), o.currency, o.rate_micros, l.product, l.step, l.quantity, l.amount, l.discount, l.approved, l.commission';
const credited = 'o.affiliate IS NOT NULL AND o.test = 0';

/** Puts rows of orders joined with their lines together again, one order at a time. */
function* ordersOf(rows: Iterable<Row>, kinds: Map<string, { name: string; kind: string }>): Generator<PastOrder> {
  let order = null as (PastOrder & { lines: PastLine[] }) | null;
  for (const [id, affiliate, event, payment, at, currency, rateMicros, product, step, quantity, amount, discount, approved, stored] of rows) {
    if (order?.id !== id) {
      if (order) yield order;
      order = { id, affiliate, event, payment, at, currency, rateMicros, lines: [] };
    }
    const { name, kind } = kinds.get(product) ?? { name: product, kind: '' };
    order.lines.push({ product, name, kind, step, quantity, amount, discount, approved: approved === 1, stored });
  }
  if (order) yield order;
}

function kindsOf(sqlite: Sqlite): Map<string, { name: string; kind: string }> {
  const rows = sqlite.prepare('SELECT id, name, kind FROM products').all() as { id: string; name: string; kind: string }[];
  return new Map(rows.map((r) => [r.id, r]));
}

/** Every credited order of a span of days, both inclusive, with its lines. */
export function pastOrders(sqlite: Sqlite, from: string, to: string): Generator<PastOrder> {
  const rows = sqlite.prepare(`SELECT ${columns} FROM orders o CROSS JOIN order_lines l ON l.order_id = o.id WHERE o.day BETWEEN ? AND ? AND ${credited}`).raw().iterate(from, to) as Iterable<Row>;
  return ordersOf(rows, kindsOf(sqlite));
}

/** The latest credited orders, about so many lines. */
export function latestOrders(sqlite: Sqlite, lines: number): PastOrder[] {
  const rows = sqlite.prepare(`SELECT ${columns} FROM (SELECT * FROM orders o WHERE ${credited} ORDER BY o.placed_at DESC, o.id DESC LIMIT ?) o CROSS JOIN order_lines l ON l.order_id = o.id`).raw().all(lines) as Row[];
  return [...ordersOf(rows.slice(0, lines * 2), kindsOf(sqlite))];
}

export function countOrders(sqlite: Sqlite, from: string, to: string): number {
  return sqlite.prepare(`SELECT count(*) FROM orders o WHERE o.day BETWEEN ? AND ? AND ${credited}`).pluck().get(from, to) as number;
}

const told = 5000;

/** Replays a span of days under the terms of a job, on whatever connection it is given. */
export function replay(sqlite: Sqlite, job: RehearsalJob, progress: (done: number, total: number) => void): RehearsalResult {
  const { book, roll } = indexed(job.terms);
  const run = rehearsal(book, roll, job.base);
  const total = countOrders(sqlite, job.from, job.to);
  let done = 0;
  progress(0, total);
  for (const order of pastOrders(sqlite, job.from, job.to)) {
    run.take(order);
    done += 1;
    if (done % told === 0) progress(done, total);
  }
  progress(done, total);
  return run.result();
}
