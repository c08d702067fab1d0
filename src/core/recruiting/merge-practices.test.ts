import { describe, expect, it } from 'vitest';
import { mergePractices } from './merge-practices';
import { unanswered, type Practice } from './practices';

const before = [unanswered('resale'), unanswered('children'), unanswered('comparison')];
const answered = (key: string, answer: Practice['answer'], table = before): Practice[] =>
  table.map((p) => (p.key === key ? { ...p, answer } : p));
const own: Practice = { ...unanswered('resale'), key: 'prc_fair', name: 'Fairs' };
const answers = (table: Practice[]) => table.map((p) => [p.key, p.answer]);

describe('two people at one table of practices', () => {
  it('keep what each has answered, in the order of the one who saves later', () => {
    const mine = [...answered('resale', 'welcome')].reverse();
    const found = mergePractices(before, answered('children', 'not-here'), mine);
    expect(answers(found.table)).toEqual([
      ['comparison', null],
      ['children', 'not-here'],
      ['resale', 'welcome'],
    ]);
    expect([found.conflicts, found.withTheirs]).toEqual([[], found.table]);
  });
  it('are told where both answered the same otherwise, with both tables', () => {
    const found = mergePractices(before, answered('resale', 'not-here'), answered('resale', 'welcome'));
    expect(found.conflicts).toEqual(['Offering our goods on resale sites']);
    expect([answers(found.table)[0], answers(found.withTheirs)[0]]).toEqual([
      ['resale', 'welcome'],
      ['resale', 'not-here'],
    ]);
    expect(
      mergePractices(before, answered('resale', 'welcome'), answered('resale', 'welcome')).conflicts,
    ).toEqual([]);
  });
  it('add and remove: what one removed and the other left alone goes, what both touched is asked about', () => {
    const without = before.filter((p) => p.key !== 'children');
    expect(answers(mergePractices(before, without, before).table)).toEqual(answers(without));
    expect(answers(mergePractices(before, before, without).table)).toEqual(answers(without));
    const both = mergePractices(before, without, answered('children', 'welcome'));
    expect(both.conflicts).toEqual(['Children as an audience']);
    expect(answers(both.withTheirs)).toEqual(answers(without));
    const added = mergePractices(before, [...before, own], answered('resale', 'welcome'));
    expect(added.table.map((p) => p.key)).toEqual(['resale', 'children', 'comparison', 'prc_fair']);
  });
});
