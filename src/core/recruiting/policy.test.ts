import { describe, expect, it } from 'vitest';
import {
  carriedOver,
  emptyPolicy,
  faultsOfPolicy,
  gapsOf,
  isEmptyPolicy,
  sectionsOf,
  type PracticesPolicy,
} from './policy';
import { nothingDiffers, policyChanges } from './policy-changes';
import type { PolicyReader } from './policy-reading';
import type { Practice } from './practices';
import type { SectionsPolicy } from './sections-policy';

const staff: PolicyReader = { of: 'staff', groupName: () => 'Circle' };
const everybody: PolicyReader = { of: 'everybody' };
const inCircle: PolicyReader = { of: 'affiliate', promoter: { kinds: ['blog'], group: 'set_circle' } };
const old: SectionsPolicy = {
  form: 'sections',
  general: 'Mark your links.',
  ownBrand: true,
  misspellings: false,
  directLinking: false,
  search: 'Ask before you bid.',
  counts: 'Paid orders',
  declined: '',
  branding: '',
  accepted: ['blog'],
  refused: [],
  kinds: 'No agencies.',
  ageRestricted: false,
  regulated: false,
  channels: '',
  noticeWeeks: 1,
  atEnd: 'pause',
};
const put = (key: string, change: Partial<Practice>, p: PracticesPolicy = emptyPolicy): PracticesPolicy => ({
  ...p,
  practices: p.practices.map((x) => (x.key === key ? { ...x, ...change } : x)),
});
const policy = put('cash-return', {
  answer: 'not-here',
  says: 'We pay the maker.',
  exceptions: [
    { who: 'set_circle', answer: 'ask-first', says: 'Ask Ines.' },
    { who: 'blog', answer: 'welcome', says: '' },
  ],
});
const keys = (p: Parameters<typeof sectionsOf>[0], reader = staff) => sectionsOf(p, reader).map((s) => s.key);

describe('a version of the older form', () => {
  it('reads as it was written', () => {
    expect(keys(old)).toEqual(['general', 'search', 'transactions', 'kinds', 'goods', 'notice']);
    expect(sectionsOf(old, everybody)[1]).toMatchObject({
      facts: [
        { text: 'Bidding on our name', yes: true },
        { text: 'Bidding on misspellings of it', yes: false },
        { text: 'Linking advertisements straight to us', yes: false },
      ],
      text: 'Ask before you bid.',
      practices: [],
    });
    expect(sectionsOf(old, staff).at(-1)!.lines).toEqual([
      'Announced 1 week before they hold',
      'Who has not accepted by then is paused until it does',
    ]);
  });
  it('is carried over: yes is welcome, no is not here, no word is lost', () => {
    const now = carriedOver(old);
    expect(now.practices.filter((p) => p.answer !== null).map((p) => [p.key, p.answer])).toEqual([
      ['search-name', 'welcome'],
      ['search-misspellings', 'not-here'],
      ['direct-linking', 'not-here'],
    ]);
    expect(now).toMatchObject({ counts: 'Paid orders', accepted: ['blog'], noticeWeeks: 1, atEnd: 'pause' });
    expect(now.general).toBe('Mark your links.\n\nAsk before you bid.\n\nNo agencies.');
    expect(carriedOver(now)).toBe(now);
  });
  it('and its like in the newer form do not differ', () => {
    expect(nothingDiffers(policyChanges(old, carriedOver(old), staff))).toBe(true);
    expect(
      policyChanges(old, put('search-name', { answer: 'not-here' }, carriedOver(old)), staff),
    ).toMatchObject({
      practices: [{ key: 'search-name', before: { answer: 'welcome' }, after: { answer: 'not-here' } }],
      sections: [],
    });
  });
});

describe('a policy of practices', () => {
  it('reads practices first; what is not answered or not written is left out', () => {
    expect(keys(policy)).toEqual(['practices', 'goods', 'notice']);
    expect(
      keys({ ...policy, owed: 'x', branding: 'x', counts: 'x', general: 'x', accepted: ['blog'] }),
    ).toEqual(['practices', 'transactions', 'branding', 'kinds', 'goods', 'owed', 'notice', 'general']);
  });
  it('is read by staff whole, by everybody without groups, by an affiliate as it is for it', () => {
    const shown = (reader: PolicyReader) => sectionsOf(policy, reader)[0]!.practices;
    expect(shown(staff)[0]!.otherwise.map((o) => o.who)).toEqual(['Circle', 'blog']);
    expect(shown(everybody)[0]).toMatchObject({
      answer: 'not-here',
      own: false,
      otherwise: [{ who: 'blog' }],
    });
    expect(shown(inCircle)).toEqual([
      {
        key: 'cash-return',
        name: 'Cash return to buyers',
        answer: 'ask-first',
        says: 'Ask Ines.',
        own: true,
        otherwise: [],
      },
    ]);
  });
  it('differs practice by practice; for one affiliate by what is answered for it', () => {
    const stricter = put('cash-return', { says: 'We never pay buyers.' }, policy);
    expect(policyChanges(policy, stricter, staff).practices.map((c) => c.key)).toEqual(['cash-return']);
    expect(nothingDiffers(policyChanges(policy, stricter, inCircle))).toBe(true);
  });
  it('does not differ by the order of the table alone, nor by phrases that nobody reads', () => {
    const turned = { ...policy, practices: [...policy.practices].reverse() };
    expect(nothingDiffers(policyChanges(policy, turned, staff))).toBe(true);
    expect(nothingDiffers(policyChanges(policy, put('resale', { words: ['swap'] }, policy), staff))).toBe(
      true,
    );
  });
  it('tells of a practice that is gone, and of one that is new', () => {
    const without = { ...policy, practices: policy.practices.filter((p) => p.key !== 'cash-return') };
    expect(policyChanges(policy, without, staff).practices).toMatchObject([
      { key: 'cash-return', after: null },
    ]);
    expect(policyChanges(without, policy, staff).practices).toMatchObject([
      { key: 'cash-return', before: null },
    ]);
    expect(policyChanges(null, policy, staff).sections.map((s) => s.key)).toEqual(['goods', 'notice']);
  });
  it('names what is empty: practices without an answer, parts without words', () => {
    expect(gapsOf(policy)).toHaveLength(12 + 5);
    expect(gapsOf({ ...policy, general: 'x' }).map((g) => g.key)).not.toContain('general');
    expect([
      isEmptyPolicy(emptyPolicy),
      isEmptyPolicy(policy),
      isEmptyPolicy({ ...emptyPolicy, owed: 'x' }),
    ]).toEqual([true, false, false]);
  });
});

describe('what contradicts itself', () => {
  const fields = (p: PracticesPolicy) => faultsOfPolicy(p).map((f) => f.field);
  it('is a kind that is looked for and not taken', () => {
    expect(fields({ ...policy, accepted: ['blog'], refused: ['blog', 'coupons'] })).toEqual(['refused']);
    expect(fields(policy)).toEqual([]);
  });
  it('is a practice that stands twice, by name or by key', () => {
    expect(fields(put('resale', { name: ' cash return to BUYERS' }, policy))).toEqual(['practices/11/name']);
    expect(fields({ ...policy, practices: [...policy.practices, policy.practices[0]!] })).toEqual([
      'practices/13/name',
    ]);
  });
  it('is one that is answered twice for the same, or for some and not for everybody', () => {
    const twice = { who: 'blog', answer: 'welcome', says: '' } as const;
    expect(fields(put('resale', { answer: 'welcome', exceptions: [twice, twice] }))).toEqual([
      'practices/11/exceptions',
    ]);
    expect(fields(put('resale', { exceptions: [twice] }))).toEqual(['practices/11/answer']);
  });
});
