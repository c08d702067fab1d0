import type { Statement } from 'better-sqlite3';
import {
  forgivenFrom,
  linesWithinOne,
  queryOf,
  rankOfKeys,
  ranks,
  type Query,
  type Rank,
} from '../../../core/recruiting/prospects';
import { readCursor } from '../../ground/db/page';
import { type Sqlite } from '../../ground/db/sqlite';
import { siteGap } from './sitegap';

export interface ProspectRecord {
  n: number;
  id: string;
  name: string;
  name_key: string;
  country: string;
  sites: string;
  kinds: string;
  audience: number;
  intro: string;
  sales: number;
  refunds: number;
  since: string;
  standing: number;
  vouched: string;
  state: 'never' | 'invited' | 'joined';
  affiliate: string | null;
}
export interface ProspectFilter {
  q?: string;
  kind?: string;
  country?: string;
  standing?: number;
  state?: string;
  vouched?: boolean;
  tag?: string;
}
export interface Found {
  row: ProspectRecord;
  rank: Rank | null;
}
export interface FoundPage {
  rows: Found[];
  next: string | null;
}

/** What is searched: a connection that reads, and a number that changes whenever our copy of the partners does. */
export interface Searched {
  sqlite: Sqlite;
  stamp: number;
}

/** The conditions of a filter, as SQL over `p`. */
function conditions(f: ProspectFilter): { sql: string; values: (string | number)[] } {
  const parts: string[] = [];
  const values: (string | number)[] = [];
  const add = (sql: string, ...of: (string | number)[]) => {
    parts.push(sql);
    values.push(...of);
  };
  if (f.country) add('p.country = ?', f.country.toUpperCase());
  if (f.standing) add('p.standing >= ?', f.standing);
  if (f.state) add('p.state = ?', f.state);
  if (f.vouched) add("p.vouched <> ''");
  if (f.kind) add("p.kinds LIKE ? ESCAPE '\\'", `%"${f.kind.replace(/[\\%_"]/g, '')}"%`);
  if (f.tag) add('EXISTS (SELECT 1 FROM prospect_tags t WHERE t.prospect = p.n AND t.tag = ?)', f.tag);
  return { sql: parts.map((p) => ` AND ${p}`).join(''), values };
}

/** Kept for each connection. */
function perConnection<T>(build: (sqlite: Sqlite) => T): (sqlite: Sqlite) => T {
  const made = new WeakMap<Sqlite, T>();
  return (sqlite) => {
    let found = made.get(sqlite);
    if (found === undefined) made.set(sqlite, (found = build(sqlite)));
    return found;
  };
}

/** Filters come in many combinations; more than these are not kept. */
const mostPrepared = 200;

const prepared = perConnection((sqlite) => {
  const made = new Map<string, Statement<(string | number)[]>>();
  return (sql: string) => {
    let found = made.get(sql);
    if (!found) {
      if (made.size > mostPrepared) made.clear();
      made.set(sql, (found = sqlite.prepare<(string | number)[]>(sql)));
    }
    return found;
  };
});

const quoted = (text: string) => `"${text.replace(/"/g, '""')}"`;
const likeStart = (text: string) => text + '\uffff';

/** Where candidates of a rank are: SQL that walks them in the order of their number, or their numbers. */
type Candidates = { from: string; values: (string | number)[] } | { ns: number[] };

/**
 * Candidates of a rank. Three letters or more go through the index of threes; fewer through the index of names and hosts, and through a text of all
 * names and sites in memory: fewer than three letters are looked for there alone, since every introduction has them.
 */
function candidates(store: Searched, rank: Rank, query: Query): Candidates | null {
  const { text, words } = query;
  const long = words.filter((w) => w.length >= 3);
  const match = (expression: string) => ({
    from: 'prospect_text x CROSS JOIN prospects p ON p.n = x.rowid WHERE x.prospect_text MATCH ? AND x.rowid > ?',
    values: [expression],
  });
  const through = (column: 'names' | 'sites') =>
    text.length >= 3
      ? match(`{${column === 'names' ? 'name' : 'sites'}} : ${quoted(text)}`)
      : { ns: partsWith(store, column, text) };
  const near = 'prospects p CROSS JOIN prospect_text x ON x.rowid = p.n';
  switch (rank) {
    case 'id':
      return null;
    case 'name':
      return { from: `${near} WHERE p.name_key = ? AND p.n > ?`, values: [text] };
    case 'name-start':
      return {
        from: `${near} WHERE p.name_key > ? AND p.name_key < ? AND p.n > ?`,
        values: [text, likeStart(text)],
      };
    case 'site-start':
      return {
        from: `${near} WHERE p.n IN (SELECT prospect FROM prospect_sites WHERE search >= ? AND search < ?) AND p.n > ?`,
        values: [text, likeStart(text)],
      };
    case 'name-part':
      return through('names');
    case 'site-part':
      return through('sites');
    case 'keyword':
      return text.length >= 3 ? match(`{words} : ${quoted(text)}`) : null;
    case 'words':
      return words.length < 2
        ? null
        : long.length
          ? match(long.map(quoted).join(' AND '))
          : { ns: linesWith(store, words) };
    case 'nearly': {
      if (text.length < forgivenFrom) return null;
      const { ns, lines } = nearText(store);
      return {
        ns: linesWithinOne(text, lines)
          .slice(0, mostNearly)
          .map((i) => ns[i]!),
      };
    }
  }
}

/** A search that is nearly right for more than these is no search any more. */
const mostNearly = 2000;
interface NearText {
  stamp: number;
  ns: number[];
  lines: string;
  each: string[];
  names: string[];
  sites: string[];
}
const keptText = perConnection((): NearText => ({
  stamp: -1,
  ns: [],
  lines: '',
  each: [],
  names: [],
  sites: [],
}));

/** Name and sites of every partner in one text, a line each: walked through in a few milliseconds, where asking each row would take fifty. Made anew when the copy has changed. */
function nearText({ sqlite, stamp }: Searched): NearText {
  const kept = keptText(sqlite);
  if (kept.stamp !== stamp) {
    const rows = sqlite
      .prepare<[], { n: number; name: string; sites: string }>(
        'SELECT rowid AS n, name, sites FROM prospect_text ORDER BY rowid',
      )
      .all();
    const each = rows.map((r) => `${r.name}${siteGap}${r.sites}`);
    Object.assign(kept, {
      stamp,
      ns: rows.map((r) => r.n),
      lines: each.join('\n'),
      each,
      names: rows.map((r) => r.name),
      sites: rows.map((r) => r.sites),
    });
  }
  return kept;
}

/** Numbers of the partners whose name or sites hold every one of some words. */
function linesWith(store: Searched, words: readonly string[]): number[] {
  const { ns, each } = nearText(store);
  return ns.filter((_, i) => words.every((w) => each[i]!.includes(w)));
}

/** Numbers of the partners whose name, or one of whose sites, holds a text. */
function partsWith(store: Searched, of: 'names' | 'sites', text: string): number[] {
  const kept = nearText(store);
  return kept.ns.filter((_, i) => kept[of][i]!.includes(text));
}

interface Keys {
  key_name: string;
  key_sites: string;
  key_words: string;
}
const keysIn = (r: ProspectRecord & Keys) => ({
  id: r.id,
  name: r.key_name,
  sites: r.key_sites.split(siteGap),
  words: r.key_words,
});
const batch = 200;
const select = 'SELECT p.*, x.name AS key_name, x.sites AS key_sites, x.words AS key_words';
const anyPlace = ['name-part', 'site-part', 'keyword'] as const;

type Read = (from: number) => { some: (ProspectRecord & Keys)[]; end: number | null };

/** Reads candidates by pieces, those after a number; `end` is where the next piece begins, null after the last. */
function readerOf(
  get: ReturnType<typeof prepared>,
  walk: Candidates,
  sql: string,
  values: (string | number)[],
): Read {
  if ('ns' in walk) {
    const statement = get(
      `${select} FROM prospects p CROSS JOIN prospect_text x ON x.rowid = p.n WHERE p.n IN (SELECT value FROM json_each(?))${sql} ORDER BY p.n`,
    );
    return (from) => {
      const begin = walk.ns.findIndex((n) => n > from);
      const piece = begin < 0 ? [] : walk.ns.slice(begin, begin + batch);
      const some = piece.length
        ? (statement.all(JSON.stringify(piece), ...values) as (ProspectRecord & Keys)[])
        : [];
      return { some, end: piece.length < batch ? null : piece.at(-1)! };
    };
  }
  const statement = get(
    `${select} FROM ${walk.from}${sql} ORDER BY ${walk.from.startsWith('prospect_text') ? 'x.rowid' : 'p.n'} LIMIT ${batch}`,
  );
  return (from) => {
    const some = statement.all(...walk.values, from, ...values) as (ProspectRecord & Keys)[];
    return { some, end: some.length < batch ? null : some.at(-1)!.n };
  };
}

/** A page of what a search finds, best rank first, within one rank in the order of the registry; what is only nearly right comes where nothing else does. */
export function findProspects(
  store: Searched,
  filter: ProspectFilter,
  after: string | undefined,
  limit: number,
): FoundPage {
  const query = queryOf(filter.q ?? '');
  const { sql, values } = conditions(filter);
  const get = prepared(store.sqlite);
  if (!query.words.length) return listed(store, filter, after, limit);
  const rows: Found[] = [];
  const [stage, last] =
    after === undefined
      ? [0, 0]
      : ((): [number, number] => {
          const [s, n] = readCursor(after);
          return [Number(s), Number(n)];
        })();
  if (after === undefined && query.id !== null) {
    const own = get('SELECT * FROM prospects WHERE id = ?').get(query.id) as ProspectRecord | undefined;
    // an exact id is always found, whatever else is asked for
    if (own) return { rows: [{ row: own, rank: 'id' }], next: null };
  }
  for (let s = stage; s < ranks.length; s += 1) {
    const rank = ranks[s]!;
    if (rank === 'nearly' && (rows.length > 0 || (after !== undefined && stage < s))) break;
    // cut-off pieces of words fit almost everything: they count on their own only where nothing has them together
    if (
      rank === 'words' &&
      query.words.some((w) => w.length < 3) &&
      (rows.length > 0 || (after !== undefined && stage < s))
    )
      continue;
    // where few fit in any place, one look-up serves three ranks
    if (rank === 'name-part' && query.text.length >= 3 && (s !== stage || last === 0)) {
      const all = get(
        `${select} FROM prospect_text x CROSS JOIN prospects p ON p.n = x.rowid WHERE x.prospect_text MATCH ?${sql} ORDER BY x.rowid LIMIT ${batch}`,
      ).all(quoted(query.text), ...values) as (ProspectRecord & Keys)[];
      if (all.length < batch) {
        const ranked = all.map((row) => ({ row, rank: rankOfKeys(keysIn(row), query)! }));
        for (const each of anyPlace) {
          for (const found of ranked) {
            if (found.rank !== each) continue;
            if (rows.length === limit)
              return { rows, next: cursorAt(ranks.indexOf(each), rows, 0, found.row.n) };
            rows.push(found);
          }
        }
        s = ranks.indexOf('keyword');
        continue;
      }
    }
    const walk = candidates(store, rank, query);
    if (!walk) continue;
    const read = readerOf(get, walk, sql, values);
    for (let from = s === stage ? last : 0; ;) {
      const { some, end } = read(from);
      for (const row of some) {
        if (rankOfKeys(keysIn(row), query) !== rank) continue;
        if (rows.length === limit) return { rows, next: cursorAt(s, rows, from, row.n) };
        rows.push({ row, rank });
      }
      if (end === null) break;
      from = end;
    }
  }
  return { rows, next: null };
}

/** Where the next page begins: after the last row shown of its rank, or at the start of a rank that has none shown yet. */
function cursorAt(stage: number, rows: Found[], from: number, next: number): string {
  const last = rows.at(-1)!;
  return Buffer.from(
    JSON.stringify([stage, String(last.rank === ranks[stage] ? last.row.n : Math.min(from, next - 1))]),
  ).toString('base64url');
}

/** Without a search: by standing, best first. */
function listed(
  { sqlite }: Searched,
  filter: ProspectFilter,
  after: string | undefined,
  limit: number,
): FoundPage {
  const { sql, values } = conditions(filter);
  const from = after === undefined ? null : readCursor(after);
  const rows = prepared(sqlite)(
    `SELECT p.* FROM prospects p WHERE ${from ? '(p.standing, p.n) < (?, ?)' : '1'}${sql} ORDER BY p.standing DESC, p.n DESC LIMIT ?`,
  ).all(...(from ? [Number(from[0]), Number(from[1])] : []), ...values, limit + 1) as ProspectRecord[];
  const shown = rows.slice(0, limit);
  return {
    rows: shown.map((row) => ({ row, rank: null })),
    next:
      rows.length > limit
        ? Buffer.from(JSON.stringify([shown.at(-1)!.standing, String(shown.at(-1)!.n)])).toString('base64url')
        : null,
  };
}
