import { type Sqlite } from '../../server/ground/db/sqlite';

/** What a large programme has in all; a part of it where a small one is wanted. */
export const wanted = { affiliates: 30_000, orders: 500_000, visits: 10_000_000, waiting: 1_500 };

/** Somebody of the demo who is copied, and what a copy brings along. */
interface Donor {
  id: string;
  orders: number;
  visits: number;
  applied: number;
}

/**
 * Whom the demo has that can be copied whole: nobody who has a share of others' sales, since a copy of it would have to be in the payments of the one it is
 * a share of.
 */
function donorsOf(sqlite: Sqlite): Donor[] {
  return sqlite
    .prepare<[], Donor>(
      `SELECT a.id, (SELECT count(*) FROM orders o WHERE o.affiliate = a.id) AS orders, (SELECT count(*) FROM visits v WHERE v.affiliate = a.id) AS visits, a.state = 'applied' AS applied
    FROM affiliates a WHERE a.promotes AND NOT EXISTS (SELECT 1 FROM commissions c WHERE c.affiliate = a.id AND c.kind <> 'commission') ORDER BY a.id`,
    )
    .all();
}

const digits = '0123456789abcdefghjkmnpqrstvwxyz';

/** What tells the rows of a copy from those of its donor: four characters at the end of each id, references and names with the number itself. */
function markOf(n: number): string {
  let mark = '';
  for (let rest = n, i = 0; i < 4; i += 1, rest = Math.floor(rest / 32)) mark = digits[rest % 32]! + mark;
  return mark;
}

/**
 * Plans who is copied how often, into the temporary table `copies` (donor, mark, n): those who sell until there are so many orders, those who wait to be
 * decided, and those who send visits alone for the rest. `echoes` says how often each visit of the last kind is repeated, so that there are so many visits.
 * @param part 1 = all that is wanted, 100 = a hundredth of it
 */
export function planCopies(sqlite: Sqlite, part: number): { copies: number; echoes: number } {
  const goal = Object.fromEntries(
    Object.entries(wanted).map(([what, n]) => [what, Math.round(n / part)]),
  ) as typeof wanted;
  const donors = donorsOf(sqlite);
  const selling = donors.filter((d) => d.orders > 0);
  const waiting = donors.filter((d) => d.applied);
  const looking = donors.filter((d) => d.orders === 0 && d.visits > 0);
  const have = sqlite
    .prepare<[], { orders: number; visits: number }>(
      'SELECT (SELECT count(*) FROM orders) AS orders, (SELECT count(*) FROM visits) AS visits',
    )
    .get()!;
  sqlite.exec(
    'CREATE TEMP TABLE copies (donor TEXT NOT NULL, mark TEXT NOT NULL, n INTEGER NOT NULL, echoed INTEGER NOT NULL, PRIMARY KEY (donor, mark)) WITHOUT ROWID; CREATE TEMP TABLE echoes (e INTEGER PRIMARY KEY)',
  );
  const add = sqlite.prepare('INSERT INTO copies VALUES (?, ?, ?, ?)');
  let n = 0;
  let orders = have.orders;
  let visits = have.visits;
  const copy = (donor: Donor, echoed: boolean) => {
    n += 1;
    add.run(donor.id, markOf(n), n, echoed ? 1 : 0);
    orders += donor.orders;
    visits += donor.visits;
  };
  for (let i = 0; orders < goal.orders; i += 1) copy(selling[i % selling.length]!, false);
  for (let i = 0; i < goal.waiting; i += 1) copy(waiting[i % waiting.length]!, false);
  const before = visits;
  for (let i = 0; n < goal.affiliates; i += 1) copy(looking[i % looking.length]!, true);
  const each = visits - before;
  const echoes = each > 0 ? Math.max(1, Math.round((goal.visits - before) / each)) : 1;
  const echo = sqlite.prepare('INSERT INTO echoes VALUES (?)');
  for (let e = 0; e < echoes; e += 1) echo.run(e);
  return { copies: n, echoes };
}
