import type { Query, Rank } from '../../core/recruiting/prospects';
import { forgivenFrom, linesWithinOne, queryOf, rankOfKeys, ranks } from '../../core/recruiting/prospects';
import type { Statement } from 'better-sqlite3';
import type { App } from '../context';
import { perApp } from '../db/prepared';
import { anywhere, readCursor } from '../db/page';
import { copyCount, siteGap } from './copy';

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
function candidates(app: App, rank: Rank, query: Query): { from: string; values: (string | number)[] } | null {
  const { text, words } = query;
  const long = words.filter((w) => w.length >= 3);
  const both = 'prospect_text x CROSS JOIN prospects p ON p.n = x.rowid';
  const match = (expression: string) => ({ from: `${both} WHERE x.prospect_text MATCH ? AND x.rowid > ?`, values: [expression] });
  // without three letters there is nothing to look up: every row is walked through until the page is full
  const walked = (some: readonly string[]) => ({ from: `${both} WHERE ${some.map(() => "(x.name || ' ' || x.sites || ' ' || x.words) LIKE ? ESCAPE '\\'").join(' AND ')} AND x.rowid > ?`, values: some.map((w) => anywhere(w)) });
  const through = (column: string) => (text.length >= 3 ? match(`{${column}} : ${quoted(text)}`) : walked([text]));
  const near = 'prospects p CROSS JOIN prospect_text x ON x.rowid = p.n';
  switch (rank) {
    case 'id': return null;
    case 'name': return { from: `${near} WHERE p.name_key = ? AND p.n > ?`, values: [text] };
    case 'name-start': return { from: `${near} WHERE p.name_key > ? AND p.name_key < ? AND p.n > ?`, values: [text, likeStart(text)] };
    case 'site-start': return { from: `${near} WHERE p.n IN (SELECT prospect FROM prospect_sites WHERE search >= ? AND search < ?) AND p.n > ?`, values: [text, likeStart(text)] };
    case 'name-part': return through('name');
    case 'site-part': return through('sites');
    case 'keyword': return through('words');
    case 'words': return words.length < 2 ? null : long.length ? match(long.map(quoted).join(' AND ')) : walked(words);
    case 'nearly': {
      if (text.length < forgivenFrom) return null;
      const { ns, lines } = nearText(app);
      return { from: `${near} WHERE p.n IN (SELECT value FROM json_each(?)) AND p.n > ?`, values: [JSON.stringify(linesWithinOne(text, lines).slice(0, mostNearly).map((i) => ns[i]))] };
    }
  }
}

/** A search that is nearly right for more than these is no search any more. */
const mostNearly = 2000;
const keptText = perApp(() => ({ made: -1, ns: [] as number[], lines: '' }));

/** Name and sites of every partner in one text, a line each: walked through in a few milliseconds, where asking each row would take fifty. Made anew when the copy has changed. */
function nearText(app: App): { ns: number[]; lines: string } {
  const kept = keptText(app);
  if (kept.made !== copyCount(app)) {
    const rows = app.sqlite.prepare<[], { n: number; name: string; sites: string }>('SELECT rowid AS n, name, sites FROM prospect_text ORDER BY rowid').all();
    Object.assign(kept, { made: copyCount(app), ns: rows.map((r) => r.n), lines: rows.map((r) => `${r.name}${siteGap}${r.sites}`).join('\n') });
  }
  return kept;
}

interface Keys { key_name: string; key_sites: string; key_words: string }
const keysIn = (r: ProspectRecord & Keys) => ({ id: r.id, name: r.key_name, sites: r.key_sites.split(siteGap), words: r.key_words });
const batch = 200;
const select = 'SELECT p.*, x.name AS key_name, x.sites AS key_sites, x.words AS key_words';
const anyPlace = ['name-part', 'site-part', 'keyword'] as const;

/** A page of what a search finds, best rank first, within one rank in the order of the registry; what is only nearly right comes where nothing else does. */
export function findProspects(app: App, filter: ProspectFilter, after: string | undefined, limit: number): { rows: Found[]; next: string | null } {
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
    // cut-off pieces of words fit almost everything: they count on their own only where nothing has them together
    if (rank === 'words' && query.words.some((w) => w.length < 3) && (rows.length > 0 || (after !== undefined && stage < s))) continue;
    // where few fit in any place, one look-up serves three ranks
    if (rank === 'name-part' && query.text.length >= 3 && (s !== stage || last === 0)) {
      const all = get(`${select} FROM prospect_text x CROSS JOIN prospects p ON p.n = x.rowid WHERE x.prospect_text MATCH ?${sql} ORDER BY x.rowid LIMIT ${batch}`).all(quoted(query.text), ...values) as (ProspectRecord & Keys)[];
      if (all.length < batch) {
        const ranked = all.map((row) => ({ row, rank: rankOfKeys(keysIn(row), query)! }));
        for (const each of anyPlace) {
          for (const found of ranked) {
            if (found.rank !== each) continue;
            if (rows.length === limit) return { rows, next: cursorAt(ranks.indexOf(each), rows, 0, found.row.n) };
            rows.push(found);
          }
        }
        s = ranks.indexOf('keyword');
        continue;
      }
    }
    const walk = candidates(app, rank, query);
    if (!walk) continue;
    const statement = get(`${select} FROM ${walk.from}${sql} ORDER BY ${walk.from.startsWith('prospect_text') ? 'x.rowid' : 'p.n'} LIMIT ${batch}`);
    for (let from = s === stage ? last : 0; ;) {
      const some = statement.all(...walk.values, from, ...values) as (ProspectRecord & Keys)[];
      for (const row of some) {
        if (rankOfKeys(keysIn(row), query) !== rank) continue;
        if (rows.length === limit) return { rows, next: cursorAt(s, rows, from, row.n) };
        rows.push({ row, rank });
      }
      if (some.length < batch) break;
      from = some.at(-1)!.n;
    }
  }
  return { rows, next: null };
}

/** Where the next page begins: after the last row shown of its rank, or at the start of a rank that has none shown yet. */
function cursorAt(stage: number, rows: Found[], from: number, next: number): string {
  const last = rows.at(-1)!;
  return Buffer.from(JSON.stringify([stage, String(last.rank === ranks[stage] ? last.row.n : Math.min(from, next - 1))])).toString('base64url');
}

/** Without a search: by standing, best first. */
function listed(app: App, filter: ProspectFilter, after: string | undefined, limit: number): { rows: Found[]; next: string | null } {
  const { sql, values } = conditions(filter);
  const from = after === undefined ? null : readCursor(after);
  const rows = prepared(app)(`SELECT p.* FROM prospects p WHERE ${from ? '(p.standing, p.n) < (?, ?)' : '1'}${sql} ORDER BY p.standing DESC, p.n DESC LIMIT ?`).all(...(from ? [Number(from[0]), Number(from[1])] : []), ...values, limit + 1) as ProspectRecord[];
  const shown = rows.slice(0, limit);
  return { rows: shown.map((row) => ({ row, rank: null })), next: rows.length > limit ? Buffer.from(JSON.stringify([shown.at(-1)!.standing, String(shown.at(-1)!.n)])).toString('base64url') : null };
}
