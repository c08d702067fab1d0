import { forgivenFrom, linesWithinOne, type Query, type Rank } from '../../../core/recruiting/prospects';
import { linesWith, nearText, partsWith } from './near-text';
import { type Searched } from './searched';

export const quoted = (text: string) => `"${text.replace(/"/g, '""')}"`;

const likeStart = (text: string) => text + '\uffff';

/** Where candidates of a rank are: SQL that walks them in the order of their number, or their numbers. */
export type Candidates = { from: string; values: (string | number)[] } | { ns: number[] };

const matching = (expression: string): Candidates => ({
  from: 'prospect_text x CROSS JOIN prospects p ON p.n = x.rowid WHERE x.prospect_text MATCH ? AND x.rowid > ?',
  values: [expression],
});

const byNumber = 'prospects p CROSS JOIN prospect_text x ON x.rowid = p.n';

/** Three letters or more go through the index of threes; fewer through a text of all names and sites in memory. */
const partIn =
  (column: 'names' | 'sites') =>
  (store: Searched, { text }: Query): Candidates =>
    text.length >= 3
      ? matching(`{${column === 'names' ? 'name' : 'sites'}} : ${quoted(text)}`)
      : { ns: partsWith(store, column, text) };

function withWords(store: Searched, { words }: Query): Candidates | null {
  if (words.length < 2) return null;
  const long = words.filter((w) => w.length >= 3);
  return long.length ? matching(long.map(quoted).join(' AND ')) : { ns: linesWith(store, words) };
}

function nearlyRight(store: Searched, { text }: Query): Candidates | null {
  if (text.length < forgivenFrom) return null;
  const { ns, lines } = nearText(store);
  return {
    ns: linesWithinOne(text, lines)
      .slice(0, mostNearly)
      .map((i) => ns[i]!),
  };
}

/**
 * Candidates of each rank. Three letters or more go through the index of threes; fewer through the index of names and hosts, and through a text of all
 * names and sites in memory: fewer than three letters are looked for there alone, since every introduction has them.
 */
const candidatesOf: Record<Rank, (store: Searched, query: Query) => Candidates | null> = {
  id: () => null,
  name: (_store, { text }) => ({
    from: `${byNumber} WHERE p.name_key = ? AND p.n > ?`,
    values: [text],
  }),
  'name-start': (_store, { text }) => ({
    from: `${byNumber} WHERE p.name_key > ? AND p.name_key < ? AND p.n > ?`,
    values: [text, likeStart(text)],
  }),
  'site-start': (_store, { text }) => ({
    from: `${byNumber} WHERE p.n IN (SELECT prospect FROM prospect_sites WHERE search >= ? AND search < ?) AND p.n > ?`,
    values: [text, likeStart(text)],
  }),
  'name-part': partIn('names'),
  'site-part': partIn('sites'),
  keyword: (_store, { text }) => (text.length >= 3 ? matching(`{words} : ${quoted(text)}`) : null),
  words: withWords,
  nearly: nearlyRight,
};

export const candidates = (store: Searched, rank: Rank, query: Query): Candidates | null =>
  candidatesOf[rank](store, query);

/** A search that is nearly right for more than these is no search any more. */
const mostNearly = 2000;
