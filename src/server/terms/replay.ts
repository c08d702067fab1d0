import type { PastLine, PastOrder, RehearsalResult } from '../../core/terms/rehearse';
import { rehearsal } from '../../core/terms/rehearse';
import type { Sqlite } from '../db/open';
import type { RehearsalJob } from '../ports';
import { indexed } from './store';

type Row = [order: number, affiliate: string, event: PastOrder['event'] | null, number: number, at: number, currency: string | null, rateMicros: number, product: string, step: string | null, quantity: number, amount: number, discount: number, approved: number, stored: number];

// texts are what a row costs most: an order goes by its row's number, and what is nearly always the same is null
const columns = `o.rowid, o.affiliate, nullif(o.event, 'sale'), o.number, coalesce(o.resolved_at, o.placed_at), nullif(o.currency, ?), o.rate_micros, l.product, l.step, l.quantity, l.amount, l.discount, l.approved, l.commission`;
const credited = 'o.affiliate IS NOT NULL AND o.test = 0';

type Kinds = Map<string, { id: string; name: string; kind: string }>;

/** Puts rows of orders joined with their lines together again and hands each on; `id` is the order's row number as text. */
function eachOrder(rows: readonly Row[], kinds: Kinds, base: string, take: (order: PastOrder) => void): void {
  let lines: PastLine[] = [];
  let order: PastOrder | null = null;
  let row = -1;
  for (let i = 0; i < rows.length; i += 1) {
    const r = rows[i]!;
    if (r[0] !== row || order === null) {
      if (order) take(order);
      row = r[0];
      lines = [];
      order = { id: String(row), affiliate: r[1], event: r[2] ?? 'sale', payment: r[3], at: r[4], currency: r[5] ?? base, rateMicros: r[6], lines };
    }
    const known = kinds.get(r[7]);
    // the names of products are said from the list of products: one text for all of their lines
    lines.push({ product: known?.id ?? r[7], name: known?.name ?? r[7], kind: known?.kind ?? '', step: r[8], quantity: r[9], amount: r[10], discount: r[11], approved: r[12] === 1, stored: r[13] });
  }
  if (order) take(order);
}

function kindsOf(sqlite: Sqlite): Kinds {
  const rows = sqlite.prepare('SELECT id, name, kind FROM products').all() as { id: string; name: string; kind: string }[];
  return new Map(rows.map((r) => [r.id, r]));
}

const chunk = 4096;

/** Hands on every credited order of a span of days, both inclusive, with its lines, in the order in which they were recorded. */
export function eachPastOrder(sqlite: Sqlite, base: string, from: string, to: string, take: (order: PastOrder) => void): void {
  const kinds = kindsOf(sqlite);
  const [first, last] = sqlite.prepare('SELECT min(rowid), max(rowid) FROM orders WHERE day BETWEEN ? AND ?').raw().get(from, to) as [number | null, number | null];
  if (first === null || last === null) return;
  // a piece at a time, read whole: stepping row by row from JavaScript costs more than the rows
  const piece = sqlite.prepare<unknown[], Row>(`SELECT ${columns} FROM orders o CROSS JOIN order_lines l ON l.order_id = o.id WHERE o.rowid BETWEEN ? AND ? AND o.day BETWEEN ? AND ? AND ${credited} ORDER BY o.rowid, l.position`).raw();
  for (let at = first; at <= last; at += chunk) eachOrder(piece.all(base, at, Math.min(last, at + chunk - 1), from, to) as unknown as Row[], kinds, base, take);
}

/** The latest credited orders, about so many lines. */
export function latestOrders(sqlite: Sqlite, base: string, lines: number): PastOrder[] {
  const rows = sqlite.prepare(`SELECT ${columns} FROM (SELECT rowid, * FROM orders o WHERE ${credited} ORDER BY o.placed_at DESC, o.id DESC LIMIT ?) o CROSS JOIN order_lines l ON l.order_id = o.id`).raw().all(base, lines) as Row[];
  const orders: PastOrder[] = [];
  eachOrder(rows.slice(0, lines * 2), kindsOf(sqlite), base, (o) => orders.push(o));
  return orders;
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
  eachPastOrder(sqlite, job.base, job.from, job.to, (order) => {
    run.take(order);
    done += 1;
    if (done % told === 0) progress(done, total);
  });
  progress(done, total);
  const result = run.result();
  const idOf = sqlite.prepare('SELECT id FROM orders WHERE rowid = ?').pluck();
  return { ...result, most: result.most.map((m) => ({ ...m, order: idOf.get(Number(m.order)) as string })) };
}
