import type { Statement } from 'better-sqlite3';
import { queryOf, rankOfKeys, ranks, type Query, type Rank } from '../../../core/recruiting/prospects';
import { readCursor } from '../../ground/db/page';
import { candidates, quoted, type Candidates } from './candidates';
import {
  perConnection,
  type Found,
  type FoundPage,
  type ProspectFilter,
  type ProspectRecord,
  type Searched,
} from './searched';
import { siteGap } from './sitegap';

/** The conditions of a filter, as SQL over `p`. */
function conditions(f: ProspectFilter): { sql: string; values: (string | number)[] } {
  const parts: string[] = [];
  const values: (string | number)[] = [];
  const add = (sql: string, ...given: (string | number)[]) => {
    parts.push(sql);
    values.push(...given);
  };
  if (f.country) add('p.country = ?', f.country.toUpperCase());
  if (f.standing) add('p.standing >= ?', f.standing);
  if (f.state) add('p.state = ?', f.state);
  if (f.vouched) add("p.vouched <> ''");
  if (f.kind) add("p.kinds LIKE ? ESCAPE '\\'", `%"${f.kind.replace(/[\\%_"]/g, '')}"%`);
  if (f.tag) add('EXISTS (SELECT 1 FROM prospect_tags t WHERE t.prospect = p.n AND t.tag = ?)', f.tag);
  return { sql: parts.map((p) => ` AND ${p}`).join(''), values };
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

/** Where a page begins: at which rank, and after which number within it. */
function beginOf(after: string | undefined): { stage: number; last: number } {
  if (after === undefined) return { stage: 0, last: 0 };
  const [stage, last] = readCursor(after);
  return { stage: Number(stage), last: Number(last) };
}

/** One page of a search on its way through the ranks. */
class PageOfSearch {
  readonly rows: Found[] = [];
  readonly #get: ReturnType<typeof prepared>;
  readonly #where: ReturnType<typeof conditions>;

  constructor(
    readonly store: Searched,
    filter: ProspectFilter,
    readonly query: Query,
    readonly page: { stage: number; last: number; isFirst: boolean; limit: number },
  ) {
    this.#get = prepared(store.sqlite);
    this.#where = conditions(filter);
  }

  /** True where something was found that fits better: on this page, or on one before it. */
  #hasBetter(stage: number): boolean {
    return this.rows.length > 0 || (!this.page.isFirst && this.page.stage < stage);
  }

  /** Cut-off pieces of words fit almost everything: they count on their own only where nothing has them together. */
  #isPassedOver(rank: Rank, stage: number): boolean {
    return rank === 'words' && this.query.words.some((w) => w.length < 3) && this.#hasBetter(stage);
  }

  /** Takes a row in. @returns false where the page is full */
  #take(found: Found): boolean {
    if (this.rows.length === this.page.limit) return false;
    this.rows.push(found);
    return true;
  }

  /** Where few fit in any place, one look-up serves three ranks. @returns null where more than a batch fit; else the cursor, undefined where the page goes on */
  #anyPlaceAtOnce(): { next: string | undefined } | null {
    const { sql, values } = this.#where;
    const all = this.#get(
      `${select} FROM prospect_text x CROSS JOIN prospects p ON p.n = x.rowid WHERE x.prospect_text MATCH ?${sql} ORDER BY x.rowid LIMIT ${batch}`,
    ).all(quoted(this.query.text), ...values) as (ProspectRecord & Keys)[];
    if (all.length >= batch) return null;
    const ranked = all.map((row) => ({ row, rank: rankOfKeys(keysIn(row), this.query)! }));
    for (const each of anyPlace)
      for (const found of ranked.filter((r) => r.rank === each))
        if (!this.#take(found)) return { next: cursorAt(ranks.indexOf(each), this.rows, 0, found.row.n) };
    return { next: undefined };
  }

  /** Walks the candidates of one rank. @returns the cursor where the page is full */
  #walk(stage: number): string | undefined {
    const rank = ranks[stage]!;
    const { sql, values } = this.#where;
    const walk = candidates(this.store, rank, this.query);
    if (!walk) return undefined;
    const read = readerOf(this.#get, walk, sql, values);
    for (let from = stage === this.page.stage ? this.page.last : 0; ;) {
      const { some, end } = read(from);
      for (const row of some) {
        if (rankOfKeys(keysIn(row), this.query) !== rank) continue;
        if (!this.#take({ row, rank })) return cursorAt(stage, this.rows, from, row.n);
      }
      if (end === null) return undefined;
      from = end;
    }
  }

  /** True where three ranks can be looked up together: from their first on, and not in the middle of one. */
  #isAnyPlace(rank: Rank, stage: number): boolean {
    const { stage: begun, last } = this.page;
    return rank === 'name-part' && this.query.text.length >= 3 && (stage !== begun || last === 0);
  }

  /** An exact id is always found, whatever else is asked for. */
  own(): ProspectRecord | undefined {
    if (!this.page.isFirst || this.query.id === null) return undefined;
    return this.#get('SELECT * FROM prospects WHERE id = ?').get(this.query.id) as ProspectRecord | undefined;
  }

  read(): FoundPage {
    for (let stage = this.page.stage; stage < ranks.length; stage += 1) {
      const rank = ranks[stage]!;
      // what is only nearly right comes where nothing else does
      if (rank === 'nearly' && this.#hasBetter(stage)) break;
      if (this.#isPassedOver(rank, stage)) continue;
      const together = this.#isAnyPlace(rank, stage) ? this.#anyPlaceAtOnce() : null;
      const next = together ? together.next : this.#walk(stage);
      if (next !== undefined) return { rows: this.rows, next };
      if (together) stage = ranks.indexOf('keyword');
    }
    return { rows: this.rows, next: null };
  }
}

/** A page of what a search finds, best rank first, within one rank in the order of the registry; what is only nearly right comes where nothing else does. */
export function findProspects(
  store: Searched,
  filter: ProspectFilter,
  after: string | undefined,
  limit: number,
): FoundPage {
  const query = queryOf(filter.q ?? '');
  if (!query.words.length) return listed(store, filter, after, limit);
  const search = new PageOfSearch(store, filter, query, {
    ...beginOf(after),
    isFirst: after === undefined,
    limit,
  });
  const own = search.own();
  return own ? { rows: [{ row: own, rank: 'id' }], next: null } : search.read();
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
