import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hostOf, linesWithinOne, queryOf, rankOf, searchKey, withinOne } from './prospects';

const searched = {
  id: 'P-104213',
  name: 'The Amber Kiln Letter',
  sites: ['https://amber-kiln-letter.example', 'http://www.fernmill.example:8080/notes/'],
  words: 'newsletter A newsletter for teachers',
};
const rank = (typed: string) => rankOf(searched, queryOf(typed));

describe('a site’s host', () => {
  it.each([
    ['https://www.Loam.example/a?b#c', 'loam.example'],
    ['loam.example', 'loam.example'],
    ['http://loam.example:8080/', 'loam.example'],
    ['HTTP://user:pw@Loam.example', 'loam.example'],
    ['https://töpfer.example', 'xn--tpfer-jua.example'],
    ['xn--tpfer-jua.example', 'xn--tpfer-jua.example'],
    ['', null],
    ['not a site', null],
    ['localhost', null],
    ['mailto:a@b.example', null],
    ['ftp://files.example', null],
    ['https://', null],
    ['loam.', null],
  ])('%s is %s', (site, host) => {
    expect(hostOf(site)).toBe(host);
  });
});

describe('a search', () => {
  it('finds by id, name, start of name, site, part and keyword, in that order', () => {
    expect(
      [
        'P-104213',
        'p104213',
        'the amber kiln letter',
        'the am',
        'amber-k',
        'fernmill',
        'ber kil',
        'mill.exa',
        'teachers',
      ].map(rank),
    ).toEqual([
      'id',
      'id',
      'name',
      'name-start',
      'site-start',
      'site-start',
      'name-part',
      'site-part',
      'keyword',
    ]);
  });
  it('takes an address as it is copied from a browser', () => {
    expect(rank('https://www.fernmill.example/notes/?x=1')).toBe('site-start');
  });
  it('finds several words wherever each is, and needs all of them', () => {
    expect([rank('letter amber'), rank('amber teachers'), rank('amber plumbers')]).toEqual([
      'words',
      'words',
      null,
    ]);
  });
  it('forgives one wrong letter from four letters on', () => {
    expect([
      rank('ambr kiln'),
      rank('amver kiln'),
      rank('ambber kiln'),
      rank('fernmull'),
      rank('fermnill'),
      rank('kilm'),
    ]).toEqual(['nearly', 'nearly', 'nearly', 'nearly', null, 'nearly']);
    expect([rank('kix'), rank(''), rank('   ')]).toEqual([null, null, null]);
  });
  it('does not mind accents, capitals and punctuation', () => {
    expect(searchKey('  Café—Töpfer & Söhne ')).toBe('cafe topfer sohne');
  });
});

/** Edit distance of `text` to the nearest part of `place`: the plain table, for comparison. */
function plain(text: string, place: string): number {
  let before = Array.from({ length: text.length + 1 }, (_, i) => i);
  let best = before[text.length]!;
  for (const c of place) {
    const now = [0];
    for (let i = 1; i <= text.length; i += 1)
      now[i] = Math.min(before[i - 1]! + (text[i - 1] === c ? 0 : 1), before[i]! + 1, now[i - 1]! + 1);
    best = Math.min(best, now[text.length]!);
    before = now;
  }
  return best;
}

describe('one wrong letter', () => {
  const text = fc.string({ unit: fc.constantFrom('a', 'b', 'c', ' '), minLength: 4, maxLength: 12 });
  it('is found exactly where the table of edit distances finds it', () => {
    fc.assert(
      fc.property(
        text,
        fc.string({ unit: fc.constantFrom('a', 'b', 'c', ' '), maxLength: 30 }),
        (t, place) => {
          expect(withinOne(t)(place)).toBe(plain(t, place) <= 1);
        },
      ),
      { numRuns: 3000 },
    );
  });
  it('is found in each line of its own: never across two', () => {
    const place = fc.string({ unit: fc.constantFrom('a', 'b', 'c', 'é'), maxLength: 20 });
    fc.assert(
      fc.property(text, fc.array(place, { maxLength: 8 }), (t, places) => {
        expect(linesWithinOne(t, places.join('\n'))).toEqual(
          places.flatMap((p, i) => (withinOne(t)(p) ? [i] : [])),
        );
      }),
      { numRuns: 1000 },
    );
  });
});
