import { describe, expect, it } from 'vitest';
import { fillIn, placeholdersIn, readOut, sentencesIn } from './live';

const values = { rate: '8 %', 'rate WHEEL-1': '12 %', window: '30 days' };

describe('a text with live words', () => {
  it('is filled with the values of the moment, however they are typed', () => {
    expect(fillIn('We pay {rate}, for the wheel { rate  wheel-1 }, {window} long.', values)).toEqual({
      text: 'We pay 8 %, for the wheel 12 %, 30 days long.',
      unknown: [],
    });
  });
  it('keeps what it does not know, and says so; other braces are text', () => {
    expect(fillIn('{rate KILN-S} and {luck} and { } and {Rate}', values)).toEqual({
      text: '{rate KILN-S} and {luck} and { } and {Rate}',
      unknown: ['{rate KILN-S}', '{luck}'],
    });
    expect(placeholdersIn('{price roll-1}')).toEqual([
      { raw: '{price roll-1}', word: 'price', code: 'ROLL-1' },
    ]);
  });
  it('read out, says so of what is not known any more, but for what is filled later', () => {
    expect(readOut('{rate} on {rate KILN-S}, {name}', values)).toBe(
      '8 % on (not offered now), (not offered now)',
    );
    expect(readOut('{rate KILN-S} {name} {rate}', values, (raw) => raw === '{name}')).toBe(
      '(not offered now) {name} 8 %',
    );
  });
  it('a value with a placeholder in it is not filled again', () => {
    expect(fillIn('{rate}', { rate: '{rate}' }).text).toBe('{rate}');
  });
  it.each([
    ['', 0],
    ['One.', 1],
    ['We pay 12.5 % a sale. No fee.', 2],
    ['Tools, kilns and courses! For whom? For you.', 3],
  ])('%j has %i sentences', (text, n) => {
    expect(sentencesIn(text)).toBe(n);
  });
});
