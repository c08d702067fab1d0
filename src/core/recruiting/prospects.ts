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
  return text.normalize('NFKD').replace(/[\u0300-\u036f]/g, '').toLowerCase().replace(/[^\p{L}\p{N}.\-@]+/gu, ' ').trim();
}

const siteText = (site: string) => site.trim().replace(/^https?:\/\/(www\.)?/i, '').replace(/^www\./i, '');

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
    .replace(/[/?#].*$/, '').replace(/:\d+$/, '');
  const text = searchKey(bare);
  return { text, words: text.split(' ').filter(Boolean), id: /^p-?\d{1,9}$/i.test(typed.trim()) ? `P-${typed.trim().replace(/\D/g, '')}` : null };
}

export interface Searched { id: string; name: string; sites: readonly string[]; words: string }

/** How well something was found, best first. */
export const ranks = ['id', 'name', 'name-start', 'site-start', 'name-part', 'site-part', 'keyword', 'nearly'] as const;
export type Rank = (typeof ranks)[number];

/**
 * How a partner fits a search: the best of its places; null if it does not. Several words must all be somewhere; the rank is then that of
 * the weakest. "nearly" forgives one wrong, missing or additional letter in the name or a site, from four letters on.
 */
export function rankOf(of: Searched, query: Query): Rank | null {
  if (query.id !== null && of.id === query.id) return 'id';
  if (!query.words.length) return null;
  const name = searchKey(of.name);
  const sites = of.sites.flatMap(siteKeys);
  const whole = rankOfWord(query.text, name, sites, of.words);
  if (whole) return whole;
  if (query.words.length > 1) {
    const each = query.words.map((w) => rankOfWord(w, name, sites, of.words));
    if (each.every((r) => r !== null)) return ranks[Math.max(ranks.indexOf('name-part'), ...each.map((r) => ranks.indexOf(r!)))]!;
  }
  return nearlyIn(query.text, [name, ...sites]) ? 'nearly' : null;
}

function rankOfWord(word: string, name: string, sites: readonly string[], words: string): Rank | null {
  if (name === word) return 'name';
  if (name.startsWith(word)) return 'name-start';
  if (sites.some((s) => s.startsWith(word))) return 'site-start';
  if (name.includes(word)) return 'name-part';
  if (sites.some((s) => s.includes(word))) return 'site-part';
  return searchKey(words).includes(word) ? 'keyword' : null;
}

/** Letters from which one wrong is forgiven. */
export const forgivenFrom = 4;

function nearlyIn(text: string, places: readonly string[]): boolean {
  return text.length >= forgivenFrom && places.some(withinOne(text));
}

/**
 * A test for texts of which a part differs in at most one letter: replaced, missing, or one too many (shift-and with one error, Wu and
 * Manber 1992). @param text of 31 letters at the most; of a longer one the first 31 count
 */
export function withinOne(text: string): (place: string) => boolean {
  const wanted = text.slice(0, 31);
  const masks = new Map<number, number>();
  for (let i = 0; i < wanted.length; i += 1) masks.set(wanted.charCodeAt(i), (masks.get(wanted.charCodeAt(i)) ?? 0) | (1 << i));
  const whole = 1 << (wanted.length - 1);
  return (place) => {
    // bit i: the first i + 1 letters end here, without a fault and with one
    let exact = 0;
    let one = 1;
    for (let j = 0; j < place.length; j += 1) {
      const mask = masks.get(place.charCodeAt(j)) ?? 0;
      const before = exact;
      exact = ((exact << 1) | 1) & mask;
      one = (((one << 1) | 1) & mask) | before | (before << 1) | 1 | (exact << 1);
      if (one & whole) return true;
    }
    return false;
  };
}

/**
 * Parts of a search that a text with one wrong letter still has at least one of: its two halves, where each is long enough to be
 * looked up by threes; else none, and everything has to be looked at.
 */
export function halvesOf(text: string): [string, string] | null {
  if (text.length < 6) return null;
  const middle = Math.floor(text.length / 2);
  return [text.slice(0, middle), text.slice(middle)];
}
