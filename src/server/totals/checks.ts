import { type Sqlite } from '../ground/db/sqlite';
import { correctedOf, isClick, isOrder } from './facts';

/** A total and the rows that it is the sum of: what the triggers keep up, said once more as a question over everything. */
interface Total {
  table: string;
  keys: readonly string[];
  sums: readonly string[];
  /** every key with its sums, from the rows themselves */
  raw: string;
}

const summed =
  'sum(clicks) AS clicks, sum(orders) AS orders, sum(value) AS value, sum(granted) AS granted, sum(reversed) AS reversed, sum(first_value) AS first_value, sum(renewals) AS renewals, sum(corrected) AS corrected';

/** What one order is in a total by creative or coupon, behind its clicks. */
const ofOrder = `${isOrder('o')}, o.base, o.granted,
          (SELECT coalesce(sum(r.reversed), 0) FROM refunds r WHERE r.order_id = o.id) + (SELECT coalesce(sum(c.declined_amount), 0) FROM commissions c WHERE c.order_id = o.id AND c.kind = 'commission'),
          iif(${isOrder('o')}, o.base, 0), o.event = 'renewal', ${correctedOf('o')}`;

const totals: readonly Total[] = [
  {
    table: 'account_totals',
    keys: ['account'],
    sums: ['amount'],
    raw: 'SELECT account, sum(amount) AS amount FROM entry_lines GROUP BY 1',
  },
  {
    table: 'step_totals',
    keys: ['step'],
    sums: ['taken', 'lines', 'base', 'commission'],
    raw: `SELECT l.step AS step, sum(o.event <> 'renewal') AS taken, count(*) AS lines, sum(l.base) AS base, sum(l.commission) AS commission FROM order_lines l JOIN orders o ON o.id = l.order_id WHERE l.step IS NOT NULL AND o.test = 0 GROUP BY 1`,
  },
  {
    table: 'payee_totals',
    keys: ['affiliate'],
    sums: ['held', 'cleared', 'in_run', 'paid'],
    raw: 'SELECT affiliate, sum(held) AS held, sum(cleared) AS cleared, sum(in_run) AS in_run, sum(paid) AS paid FROM commissions GROUP BY 1',
  },
  {
    table: 'last_clicks',
    keys: ['affiliate'],
    sums: ['day'],
    raw: `SELECT affiliate, max(at / 86400000) AS day FROM visits WHERE ${isClick()} GROUP BY 1`,
  },
  {
    table: 'creative_days',
    keys: ['creative', 'day', 'affiliate'],
    sums: ['clicks', 'orders', 'value', 'granted', 'reversed', 'first_value', 'renewals', 'corrected'],
    // a click that pays nothing is one all the same: why it pays nothing is said the day after
    raw: `SELECT creative, day, affiliate, ${summed} FROM (
        SELECT creative, at / 86400000 AS day, affiliate, 1 AS clicks, 0 AS orders, 0 AS value, 0 AS granted, 0 AS reversed, 0 AS first_value, 0 AS renewals, 0 AS corrected FROM visits
          WHERE creative IS NOT NULL AND ${isClick()}
        UNION ALL SELECT v.creative, o.placed_at / 86400000, o.affiliate, 0, ${ofOrder}
          FROM orders o JOIN visits v ON v.id = o.visit WHERE v.creative IS NOT NULL AND o.test = 0 AND o.affiliate IS NOT NULL) GROUP BY 1, 2, 3`,
  },
  {
    table: 'coupon_days',
    keys: ['coupon', 'day'],
    sums: ['clicks', 'orders', 'value', 'granted', 'reversed', 'first_value', 'renewals', 'corrected'],
    raw: `SELECT coupon, day, ${summed} FROM (
        SELECT coupon, at / 86400000 AS day, 1 AS clicks, 0 AS orders, 0 AS value, 0 AS granted, 0 AS reversed, 0 AS first_value, 0 AS renewals, 0 AS corrected FROM visits
          WHERE coupon IS NOT NULL AND ${isClick()}
        UNION ALL SELECT o.coupon, o.placed_at / 86400000, 0, ${ofOrder}
          FROM orders o WHERE o.coupon IS NOT NULL AND o.test = 0) GROUP BY 1, 2`,
  },
  {
    table: 'clearing_quarters',
    keys: ['quarter'],
    sums: ['held_count', 'held', 'cleared'],
    raw: 'SELECT clears_at / 900000 AS quarter, sum(held > 0) AS held_count, sum(max(held, 0)) AS held, sum(max(cleared, 0)) AS cleared FROM commissions WHERE held > 0 OR cleared > 0 GROUP BY 1',
  },
  {
    table: 'sale_days',
    keys: ['day'],
    sums: ['orders', 'value', 'granted', 'reversed', 'first_value', 'renewals', 'corrected'],
    raw: `SELECT day, sum(orders) AS orders, sum(value) AS value, sum(granted) AS granted, sum(reversed) AS reversed, sum(first_value) AS first_value, sum(renewals) AS renewals, sum(corrected) AS corrected FROM (
        SELECT day, ${isOrder('')} AS orders, base AS value, granted, 0 AS reversed, iif(${isOrder('')}, base, 0) AS first_value, event = 'renewal' AS renewals, 0 AS corrected FROM orders WHERE test = 0 AND affiliate IS NOT NULL
        UNION ALL SELECT day, 0, 0, 0, reversed, 0, 0, 0 FROM refunds
        UNION ALL SELECT declined_day, 0, 0, 0, declined_amount, 0, 0, 0 FROM commissions WHERE kind = 'commission' AND declined_day IS NOT NULL
        UNION ALL SELECT e.day, 0, 0, 0, 0, 0, 0, l.amount FROM entries e JOIN entry_lines l ON l.entry = e.id AND l.account = 'expense' JOIN commissions c ON c.id = l.commission AND c.kind = 'commission' WHERE e.event = 'correction') GROUP BY 1`,
  },
  {
    table: 'product_days',
    keys: ['product', 'day'],
    sums: [
      'sold',
      'credited',
      'granted',
      'refunded',
      'weight',
      'discounted',
      'opened_base',
      'opened_commission',
      'orders',
      'leads',
    ],
    raw: `SELECT l.product AS product, o.day AS day, count(DISTINCT iif(o.event <> 'renewal', o.id, NULL)) AS sold, count(DISTINCT iif(o.affiliate IS NULL, NULL, o.id)) AS credited, sum(iif(o.affiliate IS NULL, 0, l.commission)) AS granted,
        count(DISTINCT iif(l.value_left < l.value, o.id, NULL)) AS refunded, sum(iif(o.event = 'sale' AND l.amount > 0, l.base, 0)) AS weight, sum(iif(o.event = 'sale' AND l.amount > 0, l.base * (l.discount * 10000 / l.amount), 0)) AS discounted,
        sum(iif(l.step IS NULL AND o.event <> 'renewal', l.base, 0)) AS opened_base, sum(iif(l.step IS NULL AND o.event <> 'renewal', l.commission, 0)) AS opened_commission,
        count(DISTINCT iif(o.affiliate IS NOT NULL AND ${isOrder('o')}, o.id, NULL)) AS orders, count(DISTINCT iif(o.affiliate IS NOT NULL AND o.event = 'lead', o.id, NULL)) AS leads
      FROM order_lines l JOIN orders o ON o.id = l.order_id WHERE o.test = 0 GROUP BY 1, 2`,
  },
];

/** The keys of which a total and its rows say something else. A key without rows has sums of nothing. */
function differing({ table, keys, sums, raw }: Total): string {
  const key = keys.join(', ');
  const all = [...keys, ...sums].join(', ');
  const one = `SELECT ${key}, ${sums.map((s) => `sum(${s}) AS ${s}`).join(', ')} FROM (SELECT ${all} FROM ${table} UNION ALL SELECT ${[...keys, ...sums.map((s) => `-${s}`)].join(', ')} FROM (${raw})) GROUP BY ${key}`;
  return `SELECT ${keys.join(" || ' ' || ")} FROM (${one}) WHERE ${sums.map((s) => `${s} <> 0`).join(' OR ')}`;
}

/** Each total as a check of the data: rows that break it are the keys whose sums are wrong. */
export const totalChecks: readonly { rule: string; sql: string }[] = totals.map((t) => ({
  rule: `${t.table} is the sum of its rows`,
  sql: differing(t),
}));

/** The tables of totals. */
export const totalTables: readonly string[] = totals.map((t) => t.table);

/** The first keys of a total that are wrong; none where it is right. */
export function wrongIn(sqlite: Sqlite, table: string): string[] {
  return sqlite
    .prepare(`${differing(totals.find((t) => t.table === table)!)} LIMIT 5`)
    .pluck()
    .all() as string[];
}

/** Makes the totals that are wrong anew from their rows, in one transaction. @returns which were, with the first keys */
export function rebuildTotals(sqlite: Sqlite): { table: string; keys: string[] }[] {
  return sqlite
    .transaction(() =>
      totals.flatMap((t) => {
        const keys = wrongIn(sqlite, t.table);
        if (!keys.length) return [];
        sqlite.exec(
          `DELETE FROM ${t.table}; INSERT INTO ${t.table} (${[...t.keys, ...t.sums].join(', ')}) ${t.raw}`,
        );
        return [{ table: t.table, keys }];
      }),
    )
    .immediate();
}
