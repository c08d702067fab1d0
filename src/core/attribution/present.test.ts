import { describe, expect, it } from 'vitest';
import { creditFor, type Visit } from './credit';
import { presentCredit } from './present';

const day = 86_400_000;
const placedAt = Date.parse('2027-03-12T10:00:00Z');
const names = { aff_mara: 'Mara Loam', aff_kiln: 'Kiln Diaries' } as const;
const nameOf = (id: string) => names[id as keyof typeof names];
const visit = (
  id: string,
  affiliate: keyof typeof names,
  daysAgo: number,
  more: Partial<Visit> = {},
): Visit => ({
  id: `vis_${id}`,
  affiliate,
  product: null,
  at: placedAt - daysAgo * day,
  barred: null,
  ...more,
});
const presented = (more: Partial<Parameters<typeof creditFor>[0]>) =>
  presentCredit(
    creditFor({ placedAt, windowDays: 30, named: null, namedUnknown: false, stored: [], ...more }),
    nameOf,
  );

describe('who was credited, in words', () => {
  it('names the affiliate, why, and what else was looked at', () => {
    const seen = presented({ stored: [visit('1', 'aff_kiln', 9), visit('2', 'aff_mara', 2)] });
    expect(seen.who).toBe('Mara Loam');
    expect(seen.reason).toBe('the visitor’s last visit, 2 days before the order');
    expect(seen.considered.map(({ who, outcome }) => `${who}: ${outcome}`)).toEqual([
      'Mara Loam: credited: the last visit inside the window',
      'Kiln Diaries: an earlier visit',
    ]);
  });
  it('nobody, where no visit is known', () => {
    expect(presented({})).toEqual({
      who: null,
      reason: 'nobody is credited: the report carries no visit and none is stored for the visitor',
      considered: [],
    });
  });
  it('says by how much a visit was too early', () => {
    const seen = presented({ stored: [visit('1', 'aff_mara', 33)] });
    expect(seen.who).toBeNull();
    expect(seen.considered[0]!.outcome).toMatch(/^outside the window of 30 days by 3 days/);
  });
  it('keeps the moment and the id of each visit, which lead to it', () => {
    const [only] = presented({ stored: [visit('1', 'aff_mara', 2)] }).considered;
    expect([only!.visit, only!.at]).toEqual(['vis_1', placedAt - 2 * day]);
  });
  it('a visit that is reported but not known is said to be so', () => {
    expect(presented({ namedUnknown: true }).reason).toBe(
      'nobody is credited: the report names a visit that is not known here',
    );
  });
});
