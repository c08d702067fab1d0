import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Seeded } from '../../demo/random';
import { bandKeys, likeness, marked, nearlySame, nearlyTheSame, shinglesOf, wordCount } from './notes';

const copied =
  'I have been helping makers find the tools they love for many years and my audience trusts my honest reviews.';

describe('shingles and likeness', () => {
  it('are runs of four words, lower case, without punctuation, each once', () => {
    expect([...shinglesOf('The wheel, the WHEEL! the wheel; the wheel')]).toEqual([
      'the wheel the wheel',
      'wheel the wheel the',
    ]);
    expect([...shinglesOf('Only three words')]).toEqual(['only three words']);
    expect([...shinglesOf(' … ')]).toEqual([]);
    expect([...shinglesOf('I don’t know him')]).toEqual(["i don't know him"]);
    expect(shinglesOf('أكتب عن الفخار منذ سنوات').size).toBe(2);
  });
  it('is shared ÷ all', () => {
    const [a, b] = [shinglesOf('one two three four five'), shinglesOf('one two three four six')];
    expect(likeness(a, b)).toBeCloseTo(1 / 3);
    expect([likeness(a, a), likeness(a, new Set())]).toEqual([1, 0]);
  });
  it('a copy with a sentence in front is nearly the same, another text is not', () => {
    const near = nearlyTheSame(shinglesOf(copied), [
      { of: 'a', note: `Hello dear team. ${copied}` },
      { of: 'b', note: 'We deliver clay by barrow in two towns and keep a blog.' },
    ]);
    expect(near.map((n) => n.of)).toEqual(['a']);
    expect(near[0]!.likeness).toBeGreaterThanOrEqual(nearlySame);
  });
  it('counts words in any script', () => {
    expect([wordCount(''), wordCount('12k subscribers — in Lisbon'), wordCount('أكتب عن الفخار')]).toEqual([
      0, 4, 3,
    ]);
  });
});

describe('what two notes share', () => {
  it('is marked in each, with what stands between', () => {
    expect(marked('Hi! I love clay, pots and fire. Bye', 'we say i love clay pots and fire too')).toEqual([
      { text: 'Hi! ', shared: false },
      { text: 'I love clay, pots and fire', shared: true },
      { text: '. Bye', shared: false },
    ]);
    expect(marked('nothing alike here at all', 'quite another text altogether')).toEqual([
      { text: 'nothing alike here at all', shared: false },
    ]);
  });
  it('loses no letter', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'grapheme', maxLength: 200 }),
        fc.string({ unit: 'grapheme', maxLength: 200 }),
        (note, other) => {
          expect(
            marked(note, other)
              .map((p) => p.text)
              .join(''),
          ).toBe(note);
        },
      ),
    );
  });
});

describe('the index of notes', () => {
  const vocabulary = Array.from({ length: 400 }, (_, i) => `word${i}`);
  /** Notes of which many are made from others by changing, adding or leaving out some words. */
  function notes(count: number): string[] {
    const random = new Seeded(77);
    const made: string[][] = [];
    for (let i = 0; i < count; i += 1) {
      if (i > 10 && random.chance(0.4)) {
        const from = made[random.whole(0, made.length - 1)]!;
        const share = random.next() * 0.35;
        made.push(
          from.flatMap((w) =>
            random.chance(share / 2) ? [] : random.chance(share / 2) ? [random.pick(vocabulary)] : [w],
          ),
        );
      } else made.push(Array.from({ length: random.whole(5, 60) }, () => random.pick(vocabulary)));
    }
    return made.map((w) => w.join(' '));
  }
  it('finds exactly the pairs that comparing all 5,000 with all would', () => {
    const sets = notes(5000).map(shinglesOf);
    // exact: only notes that share a shingle can be alike at all
    const having = new Map<string, number[]>();
    sets.forEach((s, i) => {
      for (const x of s) having.set(x, [...(having.get(x) ?? []), i]);
    });
    const exact = new Set<string>();
    sets.forEach((s, i) => {
      const seen = new Set<number>();
      for (const x of s) for (const j of having.get(x)!) if (j > i) seen.add(j);
      for (const j of seen) if (likeness(s, sets[j]!) >= nearlySame) exact.add(`${i} ${j}`);
    });
    const buckets = new Map<string, number[]>();
    sets.forEach((s, i) => {
      bandKeys(s).forEach((k, b) => {
        buckets.set(`${b} ${k}`, [...(buckets.get(`${b} ${k}`) ?? []), i]);
      });
    });
    const indexed = new Set<string>();
    for (const list of buckets.values())
      for (const i of list)
        for (const j of list)
          if (j > i && !indexed.has(`${i} ${j}`) && likeness(sets[i]!, sets[j]!) >= nearlySame)
            indexed.add(`${i} ${j}`);
    expect(exact.size).toBeGreaterThan(500);
    expect([...indexed].sort()).toEqual([...exact].sort());
  });
  it('gives the same keys for the same words, whole numbers that a table can hold', () => {
    const keys = bandKeys(shinglesOf(copied));
    expect(keys).toEqual(bandKeys(shinglesOf(copied.toUpperCase().replace('.', '!'))));
    expect(keys.every((k) => Number.isSafeInteger(k) && k >= 0)).toBe(true);
    expect(bandKeys(new Set())).toEqual([]);
  });
});
