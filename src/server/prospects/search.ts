import type { Query, Rank } from '../../core/recruiting/prospects';
import { forgivenFrom, halvesOf, queryOf, rankOf, ranks, withinOne } from '../../core/recruiting/prospects';
import type { Statement } from 'better-sqlite3';
import type { App } from '../context';
import { perApp } from '../db/prepared';
import { anywhere, readCursor } from '../db/page';
import { wordsOf } from './copy';

export interface ProspectRecord { n: number; id: string; name: string; name_key: string; country: string; sites: string; kinds: string; audience: number; intro: string; sales: number; refunds: number; since: string; standing: number; vouched: string; state: 'never' | 'invited' | 'joined'; affiliate: string | null }
export interface ProspectFilter { q?: string; kind?: string; country?: string; standing?: number; state?: string; vouched?: boolean; tag?: string }
export interface Found { row: ProspectRecord; rank: Rank | null }

/** The conditions of a filter, as SQL over `p`. */
function conditions(f: ProspectFilter): { sql: string; values: (string | number)[] } {
  const parts: string[] = [];
  const values: (string | number)[] = [];
  const add = (sql: string, ...of: (string | number)[]) => { parts.push(sql); values.push(...of); };
  if (f.country) add('p.country = ?', f.country.toUpperCase());
  if (f.standing) add('p.standing >= ?', f.standing);
  if (f.state) add('p.state = ?', f.state);
  if (f.vouched) add("p.vouched <> ''");
  if (f.kind) add("p.kinds LIKE ? ESCAPE '\\'", `%"${f.kind.replace(/[\\%_"]/g, '')}"%`);
  if (f.tag) add('EXISTS (SELECT 1 FROM prospect_tags t WHERE t.prospect = p.n AND t.tag = ?)', f.tag);
  return { sql: parts.map((p) => ` AND ${p}`).join(''), values };
}

const prepared = perApp((app) => {
  const made = new Map<string, Statement<(string | number)[]>>();
  return (sql: string) => {
    let found = made.get(sql);
    if (!found) {
      // filters come in many combinations; more than these are not kept
      if (made.size > 200) made.clear();
      made.set(sql, (found = app.sqlite.prepare<(string | number)[]>(sql)));
    }
    return found;
  };
});

const quoted = (text: string) => `"${text.replace(/"/g, '""')}"`;
const likeStart = (text: string) => text + '\uffff';

/**
 * Where candidates of each rank are looked up, as SQL that walks them in the order of their number. Three letters or more go through
 * the index of threes; fewer through the index of names and hosts, and at last through every row.
 */
function candidates(rank: Rank, query: Query): { from: string; values: (string | number)[] } | null {
  const { text, words } = query;
  const long = words.filter((w) => w.length >= 3);
  // without a word of three letters there is nothing to look up: every row is walked through until the page is full
  const everywhere = long.length > 0 ? null : { from: `prospect_text x JOIN prospects p ON p.n = x.rowid WHERE ${words.map(() => "(x.name || ' ' || x.sites || ' ' || x.words) LIKE ? ESCAPE '\\'").join(' AND ')} AND x.rowid > ?`, values: words.map((w) => anywhere(w)) };
  const each = words.length > 1 ? long.map(quoted).join(' AND ') : null;
  const through = (column: string) => everywhere ?? { from: 'prospect_text x JOIN prospects p ON p.n = x.rowid WHERE x.prospect_text MATCH ? AND x.rowid > ?', values: [each === null ? `{${column}} : ${quoted(text)}` : `({${column}} : ${quoted(text)}) OR (${each})`] };
  switch (rank) {
    case 'id': return null;
    case 'name': return { from: 'prospects p WHERE p.name_key = ? AND p.n > ?', values: [text] };
    case 'name-start': return { from: 'prospects p WHERE p.name_key > ? AND p.name_key < ? AND p.n > ?', values: [text, likeStart(text)] };
    case 'site-start': return { from: 'prospects p WHERE p.n IN (SELECT prospect FROM prospect_sites WHERE search >= ? AND search < ?) AND p.n > ?', values: [text, likeStart(text)] };
    case 'name-part': return through('name');
    case 'site-part': return through('sites');
    case 'keyword': return through('words');
    case 'nearly': {
      if (text.length < forgivenFrom) return null;
      const halves = halvesOf(text);
      // too short for its halves to be looked up: names and sites are walked through, compared before they are read whole
      if (!halves) return { from: 'prospect_text x JOIN prospects p ON p.n = x.rowid WHERE nearly(?, x.name, x.sites) AND x.rowid > ?', values: [text] };
      return { from: 'prospect_text x JOIN prospects p ON p.n = x.rowid WHERE x.prospect_text MATCH ? AND x.rowid > ?', values: [`{name sites} : (${halves.map(quoted).join(' OR ')})`] };
    }
  }
}

const withFunction = perApp((app) => {
  let [text, fits] = ['', withinOne('')];
  app.sqlite.function('nearly', { deterministic: true }, (wanted, name, sites) => {
    if (wanted !== text) [text, fits] = [wanted as string, withinOne(wanted as string)];
    return fits(name as string) || fits(sites as string) ? 1 : 0;
  });
  return true;
});

const searched = (r: ProspectRecord) => ({ id: r.id, name: r.name, sites: JSON.parse(r.sites) as string[], words: wordsOf({ kinds: JSON.parse(r.kinds) as string[], intro: r.intro }) });
const batch = 200;

/** A page of what a search finds, best rank first, within one rank in the order of the registry; what is only nearly right comes where nothing else does. */
export function findProspects(app: App, filter: ProspectFilter, after: string | undefined, limit: number): { rows: Found[]; next: string | null } {
  withFunction(app);
  const query = queryOf(filter.q ?? '');
  const { sql, values } = conditions(filter);
  const get = prepared(app);
  if (!query.words.length) return listed(app, filter, after, limit);
  const rows: Found[] = [];
  const [stage, last] = after === undefined ? [0, 0] : ((): [number, number] => { const [s, n] = readCursor(after); return [Number(s), Number(n)]; })();
  if (after === undefined && query.id !== null) {
    const own = get('SELECT * FROM prospects WHERE id = ?').get(query.id) as ProspectRecord | undefined;
    // an exact id is always found, whatever else is asked for
    if (own) return { rows: [{ row: own, rank: 'id' }], next: null };
  }
  for (let s = stage; s < ranks.length; s += 1) {
    const rank = ranks[s]!;
    if (rank === 'nearly' && (rows.length > 0 || (after !== undefined && stage < s))) break;
    const walk = candidates(rank, query);
    if (!walk) continue;
    const statement = get(`SELECT p.* FROM ${walk.from}${sql} ORDER BY ${walk.from.startsWith('prospect_text') ? 'x.rowid' : 'p.n'} LIMIT ${batch}`);
    for (let from = s === stage ? last : 0; ;) {
      const some = statement.all(...walk.values, from, ...values) as ProspectRecord[];
      for (const row of some) {
        if (rankOf(searched(row), query) !== rank) continue;
        if (rows.length === limit) return { rows, next: Buffer.from(JSON.stringify([s, String(cursorBefore(rows, s, from, row.n))])).toString('base64url') };
        rows.push({ row, rank });
      }
      if (some.length < batch) break;
      from = some.at(-1)!.n;
    }
  }
  return { rows, next: null };
}

/** The number after which the next page begins: that of the last row shown in its rank, or the start of a rank that has none shown yet. */
function cursorBefore(rows: Found[], stage: number, from: number, next: number): number {
  const last = rows.at(-1)!;
  return last.rank === ranks[stage] ? last.row.n : Math.min(from, next - 1);
}

/** Without a search: by standing, best first. */
function listed(app: App, filter: ProspectFilter, after: string | undefined, limit: number): { rows: Found[]; next: string | null } {
  const { sql, values } = conditions(filter);
  const from = after === undefined ? null : readCursor(after);
  const rows = prepared(app)(`SELECT p.* FROM prospects p WHERE ${from ? '(p.standing, p.n) < (?, ?)' : '1'}${sql} ORDER BY p.standing DESC, p.n DESC LIMIT ?`).all(...(from ? [Number(from[0]), Number(from[1])] : []), ...values, limit + 1) as ProspectRecord[];
  const shown = rows.slice(0, limit);
  return { rows: shown.map((row) => ({ row, rank: null })), next: rows.length > limit ? Buffer.from(JSON.stringify([shown.at(-1)!.standing, String(shown.at(-1)!.n)])).toString('base64url') : null };
}
