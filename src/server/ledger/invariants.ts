import { type Sqlite } from '../ground/db/sqlite';
import { totalChecks } from '../totals/checks';

interface Check {
  rule: string;
  /** rows that break the rule */
  sql: string;
}

const checks: Check[] = [
  {
    rule: 'each entry balances',
    sql: 'SELECT entry FROM entry_lines GROUP BY entry HAVING sum(amount) <> 0',
  },
  {
    rule: 'no entry is empty',
    sql: 'SELECT id FROM entries WHERE id NOT IN (SELECT entry FROM entry_lines)',
  },
  {
    rule: 'a commission stands where its entries put it',
    sql: `SELECT c.id FROM commissions c LEFT JOIN (
        SELECT commission, sum(CASE account WHEN 'held' THEN -amount ELSE 0 END) h, sum(CASE account WHEN 'cleared' THEN -amount ELSE 0 END) k,
          sum(CASE account WHEN 'in-run' THEN -amount ELSE 0 END) r, sum(CASE account WHEN 'bank' THEN -amount ELSE 0 END) p
        FROM entry_lines WHERE commission IS NOT NULL GROUP BY commission) e ON e.commission = c.id
      WHERE coalesce(e.h, 0) <> c.held OR coalesce(e.k, 0) <> c.cleared OR coalesce(e.r, 0) <> c.in_run OR coalesce(e.p, 0) <> c.paid`,
  },
  { rule: 'nothing is held below zero', sql: 'SELECT id FROM commissions WHERE held < 0' },
  {
    rule: 'a commission is what its lines have left, with what was corrected, given up or declined',
    sql: `SELECT c.id FROM commissions c JOIN (SELECT order_id, sum(commission_left) l FROM order_lines GROUP BY order_id) o ON o.order_id = c.order_id
      WHERE c.kind = 'commission' AND c.declined IS NULL AND c.held + c.cleared + c.in_run + c.paid <> o.l + c.adjusted + c.given_up`,
  },
  {
    rule: 'a share is what its lines have left, with what was corrected, given up or declined',
    sql: `SELECT c.id FROM commissions c LEFT JOIN (SELECT order_id, kind, payee, sum(amount_left) l FROM share_lines GROUP BY order_id, kind, payee) s ON s.order_id = c.order_id AND s.kind = c.kind AND s.payee = c.affiliate
      WHERE c.kind <> 'commission' AND c.declined IS NULL AND c.held + c.cleared + c.in_run + c.paid <> coalesce(s.l, 0) + c.adjusted + c.given_up`,
  },
  {
    rule: 'commission and shares of a sale never exceed its value',
    sql: `SELECT o.id FROM orders o JOIN (SELECT order_id, sum(granted) g, sum(kind <> 'commission') n FROM commissions GROUP BY order_id) c ON c.order_id = o.id WHERE c.n > 0 AND c.g > o.base`,
  },
  {
    rule: 'what was granted and reversed is in the journal',
    sql: `SELECT c.id FROM commissions c LEFT JOIN (SELECT commission, sum(amount) n FROM entry_lines WHERE account IN ('expense', 'write-off') GROUP BY commission) e ON e.commission = c.id
      WHERE coalesce(e.n, 0) <> c.held + c.cleared + c.in_run + c.paid`,
  },
  {
    rule: 'a payment is the sum of its items',
    sql: 'SELECT p.id FROM payments p LEFT JOIN (SELECT payment, sum(amount) n FROM payment_items GROUP BY payment) i ON i.payment = p.id WHERE coalesce(i.n, 0) <> p.amount',
  },
  {
    rule: 'a payee is paid once a run',
    sql: 'SELECT run || affiliate FROM payments GROUP BY run, affiliate HAVING count(*) > 1',
  },
  {
    rule: 'a payment that is under way is in the run account, a settled one at the bank, a failed one neither',
    sql: `SELECT p.id FROM payments p LEFT JOIN (
        SELECT e.payment, sum(CASE l.account WHEN 'in-run' THEN -l.amount ELSE 0 END) r, sum(CASE l.account WHEN 'bank' THEN -l.amount ELSE 0 END) b
        FROM entries e JOIN entry_lines l ON l.entry = e.id WHERE e.payment IS NOT NULL GROUP BY e.payment) x ON x.payment = p.id
      WHERE coalesce(x.r, 0) <> CASE WHEN p.state IN ('in-run', 'sent') THEN p.amount ELSE 0 END OR coalesce(x.b, 0) <> CASE p.state WHEN 'settled' THEN p.amount ELSE 0 END`,
  },
  {
    rule: 'a sent run has its file, and its payments are its total',
    sql: `SELECT r.id FROM runs r WHERE r.state IN ('approved', 'sending', 'sent', 'settled') AND ((r.file IS NULL AND r.state <> 'approved')
    OR r.total <> (SELECT coalesce(sum(amount), 0) FROM payments WHERE run = r.id) OR r.payees <> (SELECT count(*) FROM payments WHERE run = r.id))`,
  },
  {
    rule: 'a run on its way holds no more than it will pay, a draft holds nothing',
    sql: `SELECT r.id FROM runs r WHERE (r.state IN ('approving', 'reopening') AND r.total < (SELECT coalesce(sum(amount), 0) FROM payments WHERE run = r.id))
    OR (r.state IN ('draft', 'discarded') AND EXISTS (SELECT 1 FROM payments WHERE run = r.id))`,
  },
  {
    rule: 'a credited order that earns has one commission',
    sql: `SELECT o.id FROM orders o LEFT JOIN commissions c ON c.order_id = o.id AND c.kind = 'commission' WHERE (o.granted > 0 AND c.id IS NULL) OR coalesce(c.granted, 0) <> o.granted`,
  },
  {
    rule: 'an order is the sum of its lines',
    sql: 'SELECT o.id FROM orders o JOIN (SELECT order_id, sum(value) v, sum(base) b FROM order_lines GROUP BY order_id) l ON l.order_id = o.id WHERE l.v <> o.value OR l.b <> o.base',
  },
  ...totalChecks,
];

const prepared = new WeakMap<Sqlite, { rule: string; rows: () => string[] }[]>();

/** The checks on a connection: planning them takes longer than looking through a small programme. */
function checksOn(sqlite: Sqlite) {
  const known = prepared.get(sqlite);
  if (known) return known;
  const made = checks.map(({ rule, sql }) => {
    const statement = sqlite.prepare<[], string>(`${sql} LIMIT 5`).pluck();
    return { rule, rows: () => statement.all() };
  });
  prepared.set(sqlite, made);
  return made;
}

/** Everything that must always hold of the data, by name, with the first rows that break it. Empty when all is whole. */
export function brokenInvariants(sqlite: Sqlite): { rule: string; rows: string[] }[] {
  return checksOn(sqlite)
    .map(({ rule, rows }) => ({ rule, rows: rows() }))
    .filter(({ rows }) => rows.length > 0);
}
