import { describe, expect, it } from 'vitest';
import { claimsIn, unborne } from './claims';
import { standingOf, standingParts } from './standing';

const read = (note: string) => claimsIn(note).map((c) => `${c.count} ${c.of}`);

describe('claims read from a note', () => {
  it.each([
    ['I reach 12k subscribers', ['12000 subscribers']],
    ['12,000 readers a week', ['12000 readers']],
    ['twelve thousand subscribers', ['12000 subscribers']],
    ['12.5k followers', ['12500 followers']],
    ['1.2 million viewers', ['1200000 viewers']],
    ['85,000 subscribers every week by mail', ['85000 subscribers']],
    ['40.000 active members in four countries', ['40000 members']],
    ['6 200 people who throw pots', ['6200 people']],
    ['twenty-five thousand loyal listeners', ['25000 listeners']],
    ['half a million visits', ['500000 visits']],
    ['a hundred pupils', ['100 pupils']],
    ['3,100 readers, and 80 members', ['3100 readers', '80 members']],
    ['900K YouTube followers', ['900000 followers']],
    ['since 2019; readers ask me weekly', []],
    ['12.5 % of my readers', []],
    ['we pay 40 euros and our readers', []],
    ['no numbers here', []],
    ['', []],
  ] as [string, string[]][])('%j', (note, expected) => {
    expect(read(note)).toEqual(expected);
  });
  it('stays quick on a note of 50,000 characters', () => {
    expect(claimsIn('12 and 13 '.repeat(5000))).toEqual([]);
    expect(claimsIn('twelve thousand '.repeat(3000)).length).toBe(0);
  });
  it('is contradicted by a record only after time enough, by a large claim, with next to no sale', () => {
    const claims = claimsIn('12k subscribers and 85,000 readers');
    expect(unborne(claims, 3, 200)).toMatchObject({ count: 85_000 });
    expect([
      unborne(claims, 3, 10),
      unborne(claims, 10, 200),
      unborne(claims, 0, null),
      unborne(claimsIn('900 readers'), 0, 900),
    ]).toEqual([null, null, null, null]);
  });
});

describe('standing', () => {
  const facts = { cleared: 0, refundPpm: 48_780, tenureDays: 0, sites: 1, introduction: '', note: '' };
  const parts = (more: Partial<typeof facts>, sales = 1) =>
    standingParts({ ...facts, ...more }, sales)!.map((p) => p.points);
  it('is not shown where there is no history', () => {
    expect(standingParts(facts, 0)).toBeNull();
  });
  it('has parts that are full and empty where they should be', () => {
    expect(
      parts({
        cleared: 1000,
        refundPpm: 20_000,
        tenureDays: 1095,
        introduction: 'x',
        note: 'word '.repeat(40),
      }),
    ).toEqual([40, 30, 15, 15]);
    expect(parts({ cleared: 5000, refundPpm: 0, tenureDays: 5000 })).toEqual([40, 30, 15, 5]);
    expect(parts({ refundPpm: 150_000, sites: 0 })).toEqual([0, 0, 0, 0]);
    expect(parts({ refundPpm: 85_000 })[1]).toBe(15);
    expect(parts({ note: 'word '.repeat(39) })[3]).toBe(5);
  });
  it('never falls with more cleared sales, fewer refunds, more time', () => {
    let last = -1;
    for (let n = 0; n <= 1200; n += 7) {
      const s = standingOf(standingParts({ ...facts, cleared: n }, n + 1)!);
      expect(s).toBeGreaterThanOrEqual(last);
      last = s;
    }
    last = 101;
    for (let ppm = 0; ppm <= 200_000; ppm += 3000) {
      const s = standingOf(standingParts({ ...facts, refundPpm: ppm }, 5)!);
      expect(s).toBeLessThanOrEqual(last);
      last = s;
    }
    expect(last).toBeGreaterThanOrEqual(0);
  });
});
