import { describe, expect, it } from 'vitest';
import { Seeded } from '../../demo/random';
import {
  answerFor,
  judgePractices,
  practicesIn,
  practicesMeant,
  strictest,
  unanswered,
  usualPracticeList,
  usualPractices,
  type Practice,
} from './practices';

const table: Practice[] = usualPracticeList.map(unanswered);
const own: Practice = {
  key: 'prc_raffle',
  name: 'Prizes and raffles',
  words: ['give away'],
  answer: 'ask-first',
  says: 'Tell us when.',
  exceptions: [],
};
const nobody = { kinds: [], group: null };

describe('practices are found in words', () => {
  it('by any of their phrases, each by itself', () => {
    for (const key of usualPracticeList)
      for (const phrase of usualPractices[key].words)
        expect(practicesIn(`I do it all: ${phrase}, every week`, table), phrase).toContain(key);
  });
  it('in small or capital letters, one or many, with or without marks', () => {
    expect(practicesIn('VOUCHERS!', table)).toEqual(['foreign-coupons']);
    expect(practicesIn('we send a Newsletter to our subscriber', table)).toEqual(['own-readers']);
    expect(practicesIn('Còupons', table)).toEqual(['foreign-coupons']);
  });
  it('not as a part of another word, nor across sentences', () => {
    expect(practicesIn('Recouponing', table)).toEqual([]);
    expect(practicesIn('I want cash. Return me a call.', table)).toEqual([]);
    expect(practicesIn('', table)).toEqual([]);
  });
  it.each([
    ['We never use coupons.', []],
    ['No coupons, no cash return!', []],
    ['We don’t send any newsletter', []],
    ['Without vouchers; comparisons with rivals', ['comparison']],
    ['not only coupons but newsletters', ['foreign-coupons', 'own-readers']],
    ['We do not sleep. Coupons are our trade.', ['foreign-coupons']],
  ])('unless they are denied: %s', (text, found) => {
    expect(practicesIn(text, table)).toEqual(found);
  });
  it('of the merchant’s own by name and phrases, in whatever script', () => {
    const arabic: Practice = { ...own, key: 'prc_arabic', name: 'قسائم الخصم', words: [] };
    expect(practicesIn('prizes and raffles', [own])).toEqual(['prc_raffle']);
    expect(practicesIn('we give away mugs', [own])).toEqual(['prc_raffle']);
    expect(practicesIn('أوزع قسائم الخصم كل أسبوع', [own, arabic])).toEqual(['prc_arabic']);
  });
});

describe('what somebody means to use', () => {
  it('is what is ticked and what is said, in the order of the table; what is gone comes last', () => {
    expect(
      practicesMeant(table, ['resale', 'prc_gone', 'comparison'], 'a newsletter and comparisons'),
    ).toEqual([
      { key: 'own-readers', ticked: false, said: true },
      { key: 'comparison', ticked: true, said: true },
      { key: 'resale', ticked: true, said: false },
      { key: 'prc_gone', ticked: true, said: false },
    ]);
  });
  it('is what is said alone where nobody asked', () => {
    expect(practicesMeant(table, null, 'coupons')).toEqual([
      { key: 'foreign-coupons', ticked: false, said: true },
    ]);
  });
  it('is judged by what is answered; what is not answered is no matter', () => {
    const meant = practicesMeant([...table, own], ['prc_raffle', 'resale'], '');
    expect(judgePractices([...table, own], meant, nobody)).toEqual([
      {
        key: 'prc_raffle',
        ticked: true,
        said: false,
        name: own.name,
        answer: 'ask-first',
        says: own.says,
        who: null,
      },
    ]);
  });
});

describe('an answer', () => {
  const p: Practice = {
    ...own,
    answer: 'not-here',
    exceptions: [
      { who: 'coupons', answer: 'welcome', says: '' },
      { who: 'classes', answer: 'ask-first', says: 'Schools ask.' },
      { who: 'set_circle', answer: 'not-here', says: 'Not the circle.' },
    ],
  };
  const answer = (kinds: string[], group: 'set_circle' | 'set_other' | null = null) =>
    answerFor(p, { kinds, group })?.answer;
  it('is that of the group, else of the kind, else of everybody', () => {
    expect(answer(['coupons'], 'set_circle')).toBe('not-here');
    expect(answer(['coupons'], 'set_other')).toBe('welcome');
    expect(answer(['blog'])).toBe('not-here');
  });
  it('for several kinds is the strictest of theirs', () => {
    expect(answer(['coupons', 'classes'])).toBe('ask-first');
  });
  it('is none where the practice is not answered', () => {
    expect(answerFor({ ...p, answer: null }, nobody)).toBeNull();
  });
  it('the strictest of several', () => {
    expect([strictest(['welcome', 'not-here', 'ask-first']), strictest(['welcome']), strictest([])]).toEqual([
      'not-here',
      'welcome',
      null,
    ]);
  });
});

it('whatever somebody names is found, whatever is only denied is not, in any order and company', () => {
  const random = new Seeded(20270312);
  const denials = ['We never do', 'There is no', 'Without any', 'We do not want'];
  let named = 0;
  for (let n = 0; n < 400; n += 1) {
    const some = usualPracticeList.filter(() => random.chance(0.4));
    const how = some.map((key) => ({
      key,
      phrase: random.pick([...usualPractices[key].words]),
      denied: random.chance(0.4),
    }));
    const text = how
      .map(({ phrase, denied }) =>
        denied ? `${random.pick(denials)} ${phrase}` : `We are known for ${phrase}, since ever`,
      )
      .sort(() => (random.chance(0.5) ? 1 : -1))
      .join('. ');
    const found = practicesIn(text, table);
    for (const { key, denied } of how) expect(found.includes(key), `${key} in “${text}”`).toBe(!denied);
    named += how.filter((h) => !h.denied).length;
    // ticks say the same of it as words, and both together are one
    const meant = practicesMeant(table, found, text);
    expect(meant.every((m) => m.ticked && m.said)).toBe(true);
  }
  expect(named).toBeGreaterThan(800);
});
