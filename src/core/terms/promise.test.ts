import { describe, expect, it } from 'vitest';
import { question } from '../../../tests/helpers/promise';
import { sayTerms } from '../../../tests/helpers/terms';
import { promiseOf, type PromiseQuestion, type Stretch } from './promise';

/** A stretch in few characters: "0: 30%", "3334: 10.00", "0: 2.00 a unit". */
const short = ({ from, ppm, flat, unit, unitsMost, isForOne }: Stretch) =>
  `${from / 100}:${ppm ? ` ${ppm / 10_000}%` : ''}${flat ? ` ${flat / 100}` : ''}${unit ? ` ${unit / 100}/unit` : ''}${unitsMost === null ? '' : ` most ${unitsMost / 100}`}${isForOne ? ' (one)' : ''}`;
const stretchesOf = (rates: string[], more: Partial<PromiseQuestion> = {}) =>
  promiseOf(question(rates, more)).map(short);

describe('what orders pay, by their value', () => {
  it.each<[string, string[], string[]]>([
    ['a percentage', ['programme: 8 %'], ['0: 8%']],
    ['nothing', [], ['0:']],
    ['an amount', ['programme: 6.00 flat'], ['0: 6']],
    ['an amount a unit', ['programme: 2.00 flat a unit'], ['0: 2/unit']],
    ['an amount a unit with a cap', ['programme: 2.00 flat a unit | cap 9.00'], ['0: 2/unit most 9']],
    ['a cap', ['programme: 30 % | cap 10.00'], ['0: 30%', '33.34: 10']],
    ['bands', ['programme: from 60.00 9 %, from 150.00 35 %'], ['0:', '60: 9%', '150: 35%']],
    ['bands and what holds below them', ['product A: from 60.00 9 %', 'programme: 4 %'], ['0: 4%', '60: 9%']],
    ['an uplift to a percentage', ['programme: 8 %', 'uplift: up to 15 %'], ['0: 15%']],
    ['an uplift on top', ['programme: 8 %', 'uplift: plus 5 %'], ['0: 13%']],
    ['an uplift with a cap', ['programme: 20 %', 'uplift: up to 30 % | cap 2.00'], ['0: 30%', '20: 20% 2']],
    ['an uplift over a cap', ['programme: 20 % | cap 15.00', 'uplift: up to 25 %'], ['0: 25%']],
    ['an uplift to an amount', ['programme: 10 %', 'uplift: up to 5.00 flat'], ['0: 5', '50: 10%']],
    ['an amount on top', ['programme: 10 %', 'uplift: plus 5.00 flat'], ['0: 10% 5']],
    [
      'a percentage and an amount on top: the better one',
      ['programme: 10 %', 'uplift: plus 5.00 flat', 'uplift: plus 5 %'],
      ['0: 10% 5', '100: 15%'],
    ],
    ['an amount a unit on top', ['programme: 10 %', 'uplift: plus 1.00 flat a unit'], ['0: 10% 1/unit']],
  ])('%s', (_, rates, stretches) => {
    expect(stretchesOf(rates)).toEqual(stretches);
  });

  it('a lead and a click have no value: what is promised for one, and for each click of a day', () => {
    expect(stretchesOf(['programme lead: 0.40 flat'], { event: 'lead' })).toEqual(['0: 0.4']);
    expect(stretchesOf(['programme click: 0.02 flat'], { event: 'click' })).toEqual(['0: 0.02/unit']);
  });

  it('a locked product keeps its own terms', () => {
    const sold = { product: 'prd_A', kind: 'one-off', locked: true };
    const rates = ['card makers: 20 %', 'product A: 3 %', 'uplift: up to 30 %'];
    expect(stretchesOf(rates, { sold, terms: sayTerms('card makers') })).toEqual(['0: 3%']);
  });
});
