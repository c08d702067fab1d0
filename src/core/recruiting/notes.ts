/** Words of a shingle, and from which likeness on two notes are nearly the same. */
export const shingleWords = 4;
export const nearlySame = 0.6;

/** A word of a note with where it stands, so that what two notes share can be marked in both. */
interface Word {
  text: string;
  from: number;
  to: number;
}

const wordPattern = /[\p{L}\p{N}]+(?:['’][\p{L}\p{N}]+)*/gu;

function wordsOf(note: string): Word[] {
  return [...note.matchAll(wordPattern)].map((m) => ({
    text: m[0].normalize('NFKC').toLowerCase().replaceAll('’', "'"),
    from: m.index,
    to: m.index + m[0].length,
  }));
}

/** How many words a note has. */
export function wordCount(note: string): number {
  return wordsOf(note).length;
}

/** The distinct runs of four words of a note, lower case, without punctuation; a shorter note is one run. */
export function shinglesOf(note: string): Set<string> {
  const words = wordsOf(note).map((w) => w.text);
  if (words.length === 0) return new Set();
  if (words.length < shingleWords) return new Set([words.join(' ')]);
  const set = new Set<string>();
  for (let i = 0; i + shingleWords <= words.length; i += 1)
    set.add(words.slice(i, i + shingleWords).join(' '));
  return set;
}

/** Jaccard likeness: shared ÷ all distinct shingles; 0 where either has none. */
export function likeness(a: ReadonlySet<string>, b: ReadonlySet<string>): number {
  if (a.size === 0 || b.size === 0) return 0;
  const [few, many] = a.size <= b.size ? [a, b] : [b, a];
  let shared = 0;
  for (const s of few) if (many.has(s)) shared += 1;
  return shared / (a.size + b.size - shared);
}

/** 32 bands of 2 hashes: two notes at 0.6 meet in none of them once in a million and a half. */
export const bands = 32;
const rows = 2;

/** Bands that two notes at the line of nearly the same share as a rule: each is shared with likeness × likeness. */
export const bandsOfNearlySame = Math.floor(bands * nearlySame * nearlySame);

/** FNV-1a over UTF-16 units, 32 bits. */
function hashOf(text: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i += 1) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193);
  return h >>> 0;
}

// odd multipliers and offsets of the min-hash functions, from a fixed seed: keys that were stored stay good
const [multipliers, offsets] = (() => {
  let state = 0x9e3779b9;
  const next = () => {
    state = (Math.imul(state ^ (state >>> 15), 0x85ebca6b) + 0x6d2b79f5) | 0;
    return (state ^ (state >>> 13)) >>> 0;
  };
  const count = bands * rows;
  return [Uint32Array.from({ length: count }, () => next() | 1), Uint32Array.from({ length: count }, next)];
})();

function mixed(h: number, i: number): number {
  let x = (Math.imul(h, multipliers[i]!) + offsets[i]!) >>> 0;
  x = Math.imul(x ^ (x >>> 16), 0x7feb352d);
  return (x ^ (x >>> 15)) >>> 0;
}

/**
 * Keys under which a note is found by those like it, one a band: notes that share no key are not compared.
 * @returns whole numbers below 2^53, always the same for the same words; none for a note without words
 */
export function bandKeys(shingles: ReadonlySet<string>): number[] {
  if (shingles.size === 0) return [];
  const least = new Uint32Array(bands * rows).fill(0xffffffff);
  for (const s of shingles) {
    const h = hashOf(s);
    for (let i = 0; i < least.length; i += 1) {
      const v = mixed(h, i);
      if (v < least[i]!) least[i] = v;
    }
  }
  return Array.from(
    { length: bands },
    (_, b) => least[b * rows]! * 0x200000 + (least[b * rows + 1]! & 0x1fffff),
  );
}

/** A note nearly the same as another. */
export interface Like<T> {
  of: T;
  likeness: number;
}

/** Of notes that may be like one, those that are, most alike first: the exact check behind the bands. */
export function nearlyTheSame<T>(
  shingles: ReadonlySet<string>,
  others: Iterable<{ of: T; note: string }>,
  least = nearlySame,
): Like<T>[] {
  const found: Like<T>[] = [];
  for (const { of: owner, note } of others) {
    const how = likeness(shingles, shinglesOf(note));
    if (how >= least) found.push({ of: owner, likeness: how });
  }
  return found.sort((a, b) => b.likeness - a.likeness);
}

/** A part of a note, and whether the other note has it too. */
export interface Part {
  text: string;
  shared: boolean;
}

/** A note cut into what another note has as well and what it has not: a word is shared where a run of four with it is. */
export function marked(note: string, other: string): Part[] {
  const words = wordsOf(note);
  const theirs = shinglesOf(other);
  const shared = new Array<boolean>(words.length).fill(false);
  const size = Math.min(shingleWords, words.length);
  for (let i = 0; i + size <= words.length; i += 1) {
    if (
      size > 0 &&
      theirs.has(
        words
          .slice(i, i + size)
          .map((w) => w.text)
          .join(' '),
      )
    )
      shared.fill(true, i, i + size);
  }
  const parts: Part[] = [];
  let at = 0;
  const put = (text: string, is: boolean) => {
    if (!text) return;
    const last = parts.at(-1);
    if (last?.shared === is) last.text += text;
    else parts.push({ text, shared: is });
  };
  words.forEach((w, i) => {
    // what stands between two shared words is shared with them
    put(note.slice(at, w.from), i > 0 && shared[i - 1]! && shared[i]!);
    put(note.slice(w.from, w.to), shared[i]!);
    at = w.to;
  });
  put(note.slice(at), false);
  return parts;
}
