/** A site's host as it is compared: no scheme, user, port, path or leading www., in lower case and ASCII; null where it is no address. */
export function hostOf(site: string): string | null {
  const bare = site.trim();
  const schemed = /^[a-z][a-z0-9+.-]*:\/\//i.test(bare);
  // an e-mail address is no site
  if (!bare || /\s/.test(bare) || (!schemed && bare.includes('@'))) return null;
  try {
    const { hostname, protocol } = new URL(schemed ? bare : `https://${bare}`);
    if (protocol !== 'https:' && protocol !== 'http:') return null;
    return hostname.includes('.') && !hostname.endsWith('.') ? hostname.replace(/^www\./, '') : null;
  } catch {
    return null;
  }
}

/** Text as it is searched: lower case, accents off, spaces and punctuation between words made one space; dots and dashes of sites stay. */
export function searchKey(text: string): string {
  return text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}.\-@]+/gu, ' ')
    .trim();
}

const siteText = (site: string) =>
  site
    .trim()
    .replace(/^https?:\/\/(www\.)?/i, '')
    .replace(/^www\./i, '');

/** The keys of a site: as it is written, and where that has other letters than ASCII, as it is sent. */
export function siteKeys(site: string): string[] {
  const written = searchKey(siteText(site));
  const sent = /[^\x20-\x7e]/.test(site) ? hostOf(site) : null;
  return sent === null ? [written] : [written, sent];
}

/** A search as it is looked up. */
export interface Query {
  /** the whole, as a key */
  text: string;
  /** its words */
  words: string[];
  /** as an id of the registry: "p-104213" → "P-104213" */
  id: string | null;
}

/** Reads what somebody typed; an address of a site is looked for without its scheme, www. and end. */
export function queryOf(typed: string): Query {
  const bare = siteText(typed)
    .replace(/[/?#].*$/, '')
    .replace(/:\d+$/, '');
  const text = searchKey(bare);
  return {
    text,
    words: text.split(' ').filter(Boolean),
    id: /^p-?\d{1,9}$/i.test(typed.trim()) ? `P-${typed.trim().replace(/\D/g, '')}` : null,
  };
}

export interface Searched {
  id: string;
  name: string;
  sites: readonly string[];
  words: string;
}

/** How well something was found, best first. */
export const ranks = [
  'id',
  'name',
  'name-start',
  'site-start',
  'name-part',
  'site-part',
  'keyword',
  'words',
  'nearly',
] as const;
export type Rank = (typeof ranks)[number];

/** A partner as it is kept for searching: everything as keys. */
export interface SearchedKeys {
  id: string;
  name: string;
  sites: readonly string[];
  words: string;
}

/** The keys of a partner. */
export const keysOf = (searched: Searched): SearchedKeys => ({
  id: searched.id,
  name: searchKey(searched.name),
  sites: [...new Set(searched.sites.flatMap(siteKeys))],
  words: searchKey(searched.words),
});

/**
 * How a partner fits a search: the best of its places; null if it does not. "words": all of several words are somewhere, though not
 * together. "nearly" forgives one wrong, missing or additional letter in the name or a site, from four letters on.
 */
export function rankOfKeys(keys: SearchedKeys, query: Query): Rank | null {
  if (query.id !== null && keys.id === query.id) return 'id';
  if (!query.words.length) return null;
  const whole = rankOfWord(query.text, keys);
  if (whole) return whole;
  if (query.words.length > 1 && query.words.every((w) => rankOfWord(w, keys) !== null)) return 'words';
  return query.text.length >= forgivenFrom && [keys.name, ...keys.sites].some(withinOne(query.text))
    ? 'nearly'
    : null;
}

/** The same for a partner as the registry lists it. */
export const rankOf = (searched: Searched, query: Query): Rank | null => rankOfKeys(keysOf(searched), query);

function rankOfWord(word: string, { name, sites, words }: SearchedKeys): Rank | null {
  if (name === word) return 'name';
  if (name.startsWith(word)) return 'name-start';
  if (sites.some((s) => s.startsWith(word))) return 'site-start';
  if (name.includes(word)) return 'name-part';
  if (sites.some((s) => s.includes(word))) return 'site-part';
  return words.includes(word) ? 'keyword' : null;
}

/** Letters from which one wrong is forgiven. */
export const forgivenFrom = 4;

/** Bits of the letters of a text, for walking through another with one error (shift-and, Wu and Manber 1992). Of a text of more than 31 letters the first 31 count. */
function masksOf(text: string): { masks: Map<number, number>; whole: number } {
  const wanted = text.slice(0, 31);
  const masks = new Map<number, number>();
  for (let i = 0; i < wanted.length; i += 1)
    masks.set(wanted.charCodeAt(i), (masks.get(wanted.charCodeAt(i)) ?? 0) | (1 << i));
  return { masks, whole: 1 << (wanted.length - 1) };
}

const lineBreak = 10;

/**
 * The lines of a text, counted from 0, of which a part differs from what is wanted in at most one letter: replaced, missing, or one too
 * many. One walk over the whole, however many lines it has.
 */
export function linesWithinOne(wanted: string, lines: string): number[] {
  const { masks, whole } = masksOf(wanted);
  const small = new Uint32Array(128);
  for (const [code, mask] of masks) if (code < 128) small[code] = mask;
  const found: number[] = [];
  // bit i: the first i + 1 letters end here, without a fault and with one
  let exact = 0;
  let one = 1;
  let line = 0;
  for (let j = 0; j < lines.length; j += 1) {
    const code = lines.charCodeAt(j);
    if (code === lineBreak) {
      exact = 0;
      one = 1;
      line += 1;
      continue;
    }
    const mask = code < 128 ? small[code]! : (masks.get(code) ?? 0);
    const before = exact;
    exact = ((exact << 1) | 1) & mask;
    one = (((one << 1) | 1) & mask) | before | (before << 1) | 1 | (exact << 1);
    if (one & whole) {
      found.push(line);
      const end = lines.indexOf('\n', j);
      if (end < 0) break;
      j = end - 1;
    }
  }
  return found;
}

/** A test for texts of which a part differs in at most one letter. */
export const withinOne =
  (text: string) =>
  (place: string): boolean =>
    linesWithinOne(text, place).length > 0;
