import { dayOf } from '../../core/calendar/zone';
import { addressKey, emailKey } from '../../core/recruiting/evidence';
import { type Sqlite } from '../../server/ground/db/sqlite';
import { madeUpIban } from '../iban';

interface Copied {
  table: string;
  /** whose copies a row belongs to, and what else has to hold; `x` is the row */
  of: string;
  join?: string;
  where?: string;
  /** what is not the same in a copy, as SQL over `x` and `c` */
  change: Record<string, string>;
}

const marked = (column: string) => `x.${column} || c.mark`;
const referred = (column: string) => `x.${column} || '-' || c.mark`;
const person = { affiliate: marked('affiliate') };
const throughApplication = { join: 'CROSS JOIN applications a ON a.id = x.application', of: 'a.affiliate' };
const throughOrder = { join: 'CROSS JOIN orders o ON o.id = x.order_id', of: 'o.affiliate' };

/** The tables in the order that references between them ask for. What a row says of itself elsewhere is told anew. */
const tables: Copied[] = [
  {
    table: 'affiliates',
    of: 'x.id',
    change: {
      id: marked('id'),
      handle: referred('handle'),
      name: `x.name || ' ' || c.n`,
      email: `c.mark || '.' || x.email`,
      email_key: `email_key(c.mark || '.' || x.email)`,
      address: `CASE x.address WHEN '' THEN '' ELSE c.n || ' ' || x.address END`,
      address_key: `address_key(CASE x.address WHEN '' THEN '' ELSE c.n || ' ' || x.address END)`,
      sites: 'copied_sites(x.sites, c.mark)',
      payee_iban: `CASE x.payee_iban WHEN '' THEN '' ELSE made_up_iban(c.n) END`,
      brought_by: 'NULL',
      mail_fault: 'NULL',
    },
  },
  {
    table: 'applications',
    of: 'x.affiliate',
    change: {
      id: marked('id'),
      ...person,
      note: `CASE x.note WHEN '' THEN '' ELSE x.note || ' This is our ' || c.n || '. season.' END`,
      indexed: '0',
    },
  },
  { table: 'practice_matches', ...throughApplication, change: { application: marked('application') } },
  { table: 'application_practices', ...throughApplication, change: { application: marked('application') } },
  {
    table: 'permissions',
    of: 'x.affiliate',
    change: { id: marked('id'), ...person, application: marked('application'), replaced: marked('replaced') },
  },
  { table: 'approvals', of: 'x.affiliate', change: { id: marked('id'), ...person } },
  { table: 'memberships', of: 'x.affiliate', change: { id: marked('id'), ...person } },
  { table: 'acceptances', of: 'x.affiliate', change: person },
  { table: 'trusts', of: 'x.affiliate', change: { id: marked('id'), ...person } },
  { table: 'links', of: 'x.affiliate', change: { code: marked('code'), ...person } },
  {
    table: 'visits',
    of: 'x.affiliate',
    where: 'NOT c.echoed',
    change: { id: marked('id'), link: marked('link'), ...person, visitor: marked('visitor') },
  },
  {
    table: 'orders',
    of: 'x.affiliate',
    change: {
      id: marked('id'),
      reference: referred('reference'),
      payment: referred('payment'),
      visit: marked('visit'),
      ...person,
      credit: `replace(replace(x.credit, x.affiliate, x.affiliate || c.mark), coalesce(x.visit, '-none-'), coalesce(x.visit || c.mark, ''))`,
      customer: marked('customer'),
      subscription: referred('subscription'),
      content: referred('content'),
    },
  },
  { table: 'order_lines', ...throughOrder, change: { order_id: marked('order_id') } },
  {
    table: 'refunds',
    ...throughOrder,
    change: {
      id: marked('id'),
      reference: referred('reference'),
      order_id: marked('order_id'),
      content: referred('content'),
    },
  },
  {
    table: 'subscriptions',
    of: 'x.affiliate',
    change: {
      reference: referred('reference'),
      order_id: marked('order_id'),
      ...person,
      visit: marked('visit'),
    },
  },
  {
    table: 'commissions',
    of: 'x.affiliate',
    where: `x.kind = 'commission'`,
    change: { id: marked('id'), order_id: marked('order_id'), ...person },
  },
  {
    table: 'payments',
    of: 'x.affiliate',
    change: { id: marked('id'), ...person, iban: 'made_up_iban(c.n)', end_to_end: referred('end_to_end') },
  },
  {
    table: 'payment_items',
    join: 'CROSS JOIN payments p ON p.id = x.payment',
    of: 'p.affiliate',
    change: { payment: marked('payment'), commission: marked('commission') },
  },
  {
    table: 'entries',
    join: 'CROSS JOIN entry_donors d ON d.entry = x.id',
    of: 'd.affiliate',
    change: {
      id: marked('id'),
      payment: marked('payment'),
      refund: marked('refund'),
      order_id: marked('order_id'),
      once: referred('once'),
    },
  },
  {
    table: 'entry_lines',
    join: 'CROSS JOIN entry_donors d ON d.entry = x.entry',
    of: 'd.affiliate',
    change: { entry: marked('entry'), ...person, commission: marked('commission') },
  },
  {
    table: 'reports',
    ...throughOrder,
    where: 'x.slot IS NULL',
    change: { id: marked('id'), reference: referred('reference'), order_id: marked('order_id') },
  },
  {
    table: 'messages',
    of: 'x.affiliate',
    where: `x.state <> 'waiting'`,
    change: { id: marked('id'), to_address: `c.mark || '.' || x.to_address`, ...person, subject_of: 'NULL' },
  },
  { table: 'audit', of: 'x.subject', change: { id: marked('id'), subject: marked('subject') } },
];

/** The statement that copies the rows of a table. The joins go from left to right, so that rows are read and copies written in the order of their ids. */
function statementOf(
  sqlite: Sqlite,
  { table, of: tableName, join = '', where = '1', change }: Copied,
): string {
  const columns = (sqlite.pragma(`table_info(${table})`) as { name: string }[]).map((c) => c.name);
  return `INSERT INTO ${table} (${columns.map((c) => `"${c}"`).join(', ')}) SELECT ${columns.map((c) => change[c] ?? `x."${c}"`).join(', ')} FROM ${table} x ${join} CROSS JOIN copies c ON c.donor = ${tableName} WHERE ${where}`;
}

/** Indexes of the tables that grow are made when the rows are there: sorted at once instead of row by row. */
function withoutIndexes(sqlite: Sqlite, work: () => void): void {
  const list = sqlite
    .prepare<[], { name: string; sql: string }>(
      `SELECT name, sql FROM sqlite_master WHERE type = 'index' AND sql LIKE 'CREATE INDEX%' AND tbl_name IN (${tables.map((t) => `'${t.table}'`).join(', ')})`,
    )
    .all();
  for (const { name } of list) sqlite.exec(`DROP INDEX ${name}`);
  work();
  for (const { sql } of list) sqlite.exec(sql);
}

const hour = 3_600_000;

/** The functions that the statements use. */
function teach(sqlite: Sqlite, zone: string): void {
  const days = new Map<number, string>();
  const pure = { deterministic: true };
  sqlite.function('email_key', pure, (email: string) => emailKey(email));
  sqlite.function('address_key', pure, (address: string) => addressKey(address));
  sqlite.function('made_up_iban', pure, (n: number) => madeUpIban(100_000 + n));
  sqlite.function('copied_sites', pure, (sites: string, mark: string) =>
    JSON.stringify((JSON.parse(sites) as string[]).map((s) => `${mark}.${s}`)),
  );
  // every zone's midnight is at a whole quarter of an hour
  sqlite.function('day_of', pure, (at: number) => {
    const quarter = Math.floor(at / (hour / 4));
    let day = days.get(quarter);
    if (day === undefined) days.set(quarter, (day = dayOf(at, zone)));
    return day;
  });
}

/** Visits of those who send nothing else, each repeated some hours earlier. */
const echoedVisits = `INSERT INTO visits (id, link, affiliate, product, at, visitor, landing, sub_ids, barred, uncounted, address)
  SELECT x.id || c.mark || 'e' || e.e, x.link || c.mark, x.affiliate || c.mark, x.product, x.at - e.e * ${5 * hour}, x.visitor || c.mark || 'e' || e.e, x.landing, x.sub_ids, x.barred, x.uncounted, x.address
  FROM visits x CROSS JOIN copies c ON c.donor = x.affiliate CROSS JOIN echoes e WHERE c.echoed`;

const clickDays = `DELETE FROM click_days;
  INSERT INTO click_days (day, product, clicks) SELECT day_of(at) AS day, product, count(*) FROM visits WHERE uncounted IS NULL AND (barred IS NULL OR barred <> 'automated') GROUP BY 1, 2`;

const sums = `UPDATE products SET sold = (SELECT coalesce(sum(l.quantity), 0) FROM order_lines l JOIN orders o ON o.id = l.order_id WHERE l.product = products.id AND o.event = 'sale' AND NOT o.test);
  UPDATE runs SET total = (SELECT coalesce(sum(amount), 0) FROM payments p WHERE p.run = runs.id), payees = (SELECT count(*) FROM payments p WHERE p.run = runs.id) WHERE state IN ('approved', 'sent', 'settled')`;

/** Copies what `copies` names, with everything that belongs to it. @param say told what is being done */
export function grow(sqlite: Sqlite, zone: string, say: (what: string) => void): void {
  teach(sqlite, zone);
  sqlite.exec(
    'CREATE TEMP TABLE entry_donors (entry TEXT PRIMARY KEY, affiliate TEXT NOT NULL) WITHOUT ROWID; INSERT INTO entry_donors SELECT DISTINCT entry, affiliate FROM entry_lines WHERE affiliate IN (SELECT donor FROM copies)',
  );
  withoutIndexes(sqlite, () => {
    // the visits of those who send nothing else first, while there are no copies among the visits yet
    say('visits');
    sqlite.exec(echoedVisits);
    for (const table of tables) {
      say(table.table);
      sqlite.exec(statementOf(sqlite, table));
    }
    say('click_days');
    sqlite.exec(clickDays);
    sqlite.exec(sums);
    say('indexes');
  });
}
