import { describe, expect, it } from 'vitest';
import { formatMoney, parseAmount } from './amount';
import { currencies, exponentOf, exponents, isCurrency } from './currency';

describe('the currencies that are accepted', () => {
  it('are known by their ISO 4217 code alone', () => {
    expect(['EUR', 'JPY', 'KWD'].every(isCurrency)).toBe(true);
    expect(['eur', 'EURO', '', ' EUR', 'XXX', '€'].some(isCurrency)).toBe(false);
  });
  it('are not what every object has', () => {
    expect(['toString', '__proto__', 'constructor', 'hasOwnProperty'].some(isCurrency)).toBe(false);
  });
  it('have two digits after the point, or none, or three', () => {
    expect([exponentOf('EUR'), exponentOf('JPY'), exponentOf('KWD')]).toEqual([2, 0, 3]);
    expect(new Set(Object.values(exponents))).toEqual(new Set([0, 2, 3]));
  });
  it('one that is not known is refused by name, with those that are', () => {
    expect(() => exponentOf('XAU')).toThrow(/^Currency XAU is not known; known are EUR, USD, GBP/);
    expect(() => exponentOf('toString')).toThrow(RangeError);
  });
  it.each(currencies)('%s: what is written is read back', (code) => {
    const amount = 1_234_567;
    const digits = exponentOf(code);
    const written =
      digits === 0 ? String(amount) : String(amount).replace(new RegExp(`(\\d{${digits}})$`), '.$1');
    expect(parseAmount(written, code)).toMatchObject({ ok: true, value: amount });
    expect(formatMoney({ amount, currency: code }).replace(/[^\d]/g, '')).toBe(String(amount));
  });
  it('more digits than a currency has are refused', () => {
    expect(parseAmount('1.5', 'JPY').ok).toBe(false);
    expect(parseAmount('1.005', 'EUR').ok).toBe(false);
    expect(parseAmount('1.0005', 'KWD').ok).toBe(false);
  });
});
